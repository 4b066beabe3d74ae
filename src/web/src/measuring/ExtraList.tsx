import { useMutation, useQueryClient } from '@tanstack/react-query';
import { makeRoundTheSheet, type RoundView } from '../api/generated';
import { ask } from '../api/ledger';
import { Problem } from '../ui/Problem';
import { discard, type WaitingLine } from './lines';
import { NamesLater } from './NamesLater';

/** Readings between any two pins, those that wait on this device too. */
export function ExtraList({ view, waiting }: { view: RoundView; waiting: readonly WaitingLine[] }) {
  const mine = waiting.filter((w) => w.line.kind === 'taken');
  if (view.extras.length + mine.length === 0) {
    return <NamesLater machineId={view.machineId} />;
  }
  return (
    <section aria-label="Extra readings" className="mt-4">
      <h2 className="border-b border-rule-2 pb-1 text-[15px]">Extra readings</h2>
      <ul className="text-[14px]">
        {view.extras.map((r) => (
          <li key={r.id} className="flex flex-wrap justify-between gap-x-2 border-b border-rule py-1">
            <span className="font-mono">
              {r.redPrinted}
              {r.blackPrinted && ` to ${r.blackPrinted}`}
            </span>
            <span>
              <b className="font-mono">{r.value}</b> {r.remark} {r.state}
            </span>
          </li>
        ))}
        {mine.map(({ line, refused }) => (
          <li key={line.id} className="flex flex-wrap justify-between gap-x-2 border-b border-rule py-1">
            <span className="font-mono">
              {line.red?.printed}
              {line.black && ` to ${line.black.printed}`}
            </span>
            <span>
              <b className="font-mono">{line.typed}</b>{' '}
              {refused ? (
                <>
                  <span className="text-out">refused: {refused}</span>{' '}
                  <button type="button" className="link" onClick={() => void discard(line.id)}>
                    Leave it out
                  </button>
                </>
              ) : (
                'unsent, not judged until sent'
              )}
            </span>
          </li>
        ))}
      </ul>
      {view.extras.length > 0 && <AsSheet roundId={view.id} />}
      <NamesLater machineId={view.machineId} />
    </section>
  );
}

/** On a healthy machine: what was read becomes what should be read, in one key. */
function AsSheet({ roundId }: { roundId: string }) {
  const queries = useQueryClient();
  const make = useMutation({
    mutationFn: () => ask(makeRoundTheSheet({ path: { id: roundId } })),
    onSuccess: async () => {
      for (const key of ['round', 'model', 'machine', 'tables']) {
        await queries.invalidateQueries({ queryKey: [key] });
      }
    },
  });
  return (
    <>
      <button type="button" className="quiet mt-2 min-h-[44px]" disabled={make.isPending} onClick={() => make.mutate()}>
        It is healthy: make these the sheet
      </button>
      {make.data && (
        <p role="status" className="py-1 text-[14px]">
          {make.data.added.length === 0 ? 'No new check.' : `New checks: ${make.data.added.join(', ')}.`}
          {make.data.left.map((why) => (
            <span key={why} className="block text-ink-2">
              Left out: {why}.
            </span>
          ))}
        </p>
      )}
      <Problem error={make.error} />
    </>
  );
}
