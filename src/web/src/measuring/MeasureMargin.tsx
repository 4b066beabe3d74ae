import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { followOrder, type RoundOrder, type RoundView, type VisitStart } from '../api/generated';
import { ask } from '../api/ledger';
import { Choose } from '../ui/Choose';
import { Key } from '../ui/Key';
import { More } from '../ui/More';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';
import { VisitMargin } from '../visits/VisitMargin';
import { Spreadsheet } from './Spreadsheet';

/** Down the power path, or as the sheet has it that the machine was entered from. */
function Order({ view }: { view: RoundView }) {
  const queries = useQueryClient();
  const follow = useMutation({
    mutationFn: (order: RoundOrder) => ask(followOrder({ path: { id: view.id }, body: { order } })),
    onSuccess: (now) => void queries.setQueryData(['round', view.id], now),
  });
  return (
    <label className="block">
      In the order of
      <Choose
        className="mt-0.5"
        value={view.order}
        options={[
          { value: 'path', words: 'the path, in least time' },
          { value: 'sheet', words: 'the sheet it came from' },
        ]}
        onChange={(order) => follow.mutate(order)}
      />
      <Problem error={follow.error} />
    </label>
  );
}

/** How long the rest takes, and of what that is made up. */
function TimeLeft({ view }: { view: RoundView }) {
  const { minutes, readings, why } = view.time;
  return (
    <>
      {readings > 0 && (
        <More title={`About ${minutes} min for ${readings} more`}>
          <ul className="pb-1 text-ink-2">
            {why.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </More>
      )}
      {view.unknownPlaces.length > 0 && (
        <p className="text-ink-2">In the model’s order, but nothing is read there: {view.unknownPlaces.join(', ')}.</p>
      )}
    </>
  );
}

/** The steps of the visit, with what else can be done while one measures. */
export function MeasureMargin({
  view,
  start,
  extra,
  writeUp,
  children,
}: {
  view: RoundView;
  start: VisitStart | undefined;
  extra: () => void;
  writeUp: () => void;
  children?: ReactNode;
}) {
  const acts = (
    <div className="mt-1 space-y-1.5 text-[14px]">
      <button type="button" className="quiet flex w-full items-center justify-between px-2" onClick={extra}>
        Extra reading <Key>F4</Key>
      </button>
      <button type="button" className="quiet flex w-full items-center justify-between px-2" onClick={writeUp}>
        Write up fault <Key>F8</Key>
      </button>
      <Spreadsheet roundId={view.id} />
      {view.hasSheet && <Order view={view} />}
      <TimeLeft view={view} />
      {children}
      <p className="text-ink-2">
        Round of {dayOf(view.startedAt)}, {clockOf(view.startedAt)}
        {view.visitEnded && '. The visit has ended.'}
      </p>
    </div>
  );
  const measured = `${view.taken} of ${view.rows.length}`;
  // With the ledger gone there may be no steps to show; what is done here is done all the same.
  return start ? (
    <VisitMargin start={start} here="measure" brief measured={measured}>
      {acts}
    </VisitMargin>
  ) : (
    <>
      <p className="font-bold">{view.complaint || 'No complaint noted'}</p>
      <p className="mt-2">
        <b>Measure</b> <span className="font-mono text-[14px] text-ink-2">{measured}</span>
      </p>
      {acts}
    </>
  );
}
