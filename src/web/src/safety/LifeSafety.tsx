import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { editLifeSafetyNotice, type LifeSafetyNoticeView, type VisitStart } from '../api/generated';
import { ask } from '../api/ledger';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';
import { useWritten } from '../ui/useDraft';
import { useDone } from '../visits/start';
import { SkipStep } from '../visits/VisitMargin';
import { LeafPart } from './LeafPart';

const nobody = { told: '', watching: '', hours: '4' };

/** A machine that protects life: who was told it is off, and what watches in its place. */
export function LifeSafety({ start }: { start: VisitStart }) {
  const { done, error } = useDone(start);
  const queries = useQueryClient();
  const [text, setText] = useWritten(`life-safety/${start.visitId}`, nobody);
  const [failure, setFailure] = useState<Error | null>(null);
  const open = start.safety.notices.filter((n) => !n.backAt);
  const back = async (n: LifeSafetyNoticeView) => {
    try {
      setFailure(null);
      const { version, told, watching, until } = n;
      await ask(editLifeSafetyNotice({ path: { id: n.id }, body: { version, told, watching, until, isBack: true } }));
    } catch (broken) {
      setFailure(broken as Error);
    }
    // Where somebody wrote in between, what stands is shown, and can be said of it anew.
    for (const key of ['start', 'home']) {
      void queries.invalidateQueries({ queryKey: [key] });
    }
  };
  return (
    <LeafPart title="Life safety">
      <p className="py-1">
        This machine {start.safety.lifeSafety}. Tell somebody before it is out of service, and have something watch in
        its place. Only those allowed to may take it out.
      </p>
      <ul>
        {start.safety.notices.map((n) => (
          <li key={n.id} className="border-b border-rule py-1">
            <p className="flex items-start gap-2">
              <span className="pt-0.5">
                <Mark kind={n.backAt ? 'within' : 'marginal'} />
              </span>
              <span className="min-w-0 grow">
                <b>Told:</b> {n.told}. <b>Watching:</b> {n.watching}
                <span className="block text-[14px] text-ink-2">
                  {n.person}, {dayOf(n.at)} {clockOf(n.at)}
                  {n.until && `, until ${dayOf(n.until)} ${clockOf(n.until)}`}
                  {n.backAt && `. Back in service ${dayOf(n.backAt)} ${clockOf(n.backAt)}`}
                </span>
              </span>
            </p>
            {!n.backAt && (
              <button type="button" className="quiet" onClick={() => void back(n)}>
                Back in service
              </button>
            )}
          </li>
        ))}
      </ul>
      {open.length === 0 && !start.hasEnded && (
        <form
          aria-label="Give notice"
          className="mt-1 space-y-1 text-[14px]"
          onSubmit={(event) => {
            event.preventDefault();
            const hours = Number(text.hours);
            void done({
              to: 'life-safety-notices',
              words: `told ${text.told}`,
              json: {
                told: text.told,
                watching: text.watching,
                until: hours > 0 ? new Date(Date.now() + hours * 3_600_000).toISOString() : null,
              },
            });
          }}
        >
          <label className="block">
            Who was told
            <input
              className="field"
              value={text.told}
              onChange={(event) => setText({ ...text, told: event.target.value })}
            />
          </label>
          <label className="block">
            What watches in its place
            <input
              className="field"
              value={text.watching}
              onChange={(event) => setText({ ...text, watching: event.target.value })}
            />
          </label>
          <label className="block">
            For how many hours
            <input
              className="field font-mono"
              inputMode="decimal"
              value={text.hours}
              onChange={(event) => setText({ ...text, hours: event.target.value })}
            />
          </label>
          <button type="submit" className="quiet font-bold" disabled={!text.told.trim() || !text.watching.trim()}>
            They are told
          </button>
          <SkipStep start={start} step="lifeSafety" />
        </form>
      )}
      <Problem error={error ?? failure} />
    </LeafPart>
  );
}
