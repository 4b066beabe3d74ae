import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { listEdits, putBack, type EditView } from '../api/generated';
import { ask } from '../api/ledger';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';

interface HistoryProps {
  /** Kind of record as the server calls it: Fault, Pin, Machine. */
  kind: string;
  recordId: string;
  /** Shows the changes of what the record owns too: the pins of a board type, the values of a snapshot. */
  within?: boolean;
  /** Called when a change was put back. */
  onPutBack?: () => void;
}

const spaced = (field: string) => field.replace(/([a-z])([A-Z])/g, '$1 $2').toLowerCase();
const shown = (text: string) => (text === '' ? 'nothing' : text.length > 160 ? `${text.slice(0, 160)}…` : text);

/** Who changed what when, and back to it. */
export function History({ kind, recordId, within = false, onPutBack }: HistoryProps) {
  const queries = useQueryClient();
  const edits = useQuery({
    queryKey: ['edits', kind, recordId, within],
    queryFn: () => ask(listEdits({ path: { kind, recordId }, query: { within } })),
  });
  const back = useMutation({
    mutationFn: (edit: EditView) => ask(putBack({ path: { id: edit.id } })),
    onSuccess: async () => {
      await queries.invalidateQueries();
      onPutBack?.();
    },
  });
  return (
    <section aria-label={`Who wrote here: ${spaced(kind)}`} className="mt-4">
      <h2 className="border-b border-rule-2 pb-1">Who wrote here</h2>
      <Problem error={edits.error ?? back.error} />
      <ul className="text-[14px]">
        {edits.data
          ?.filter((edit) => !within || !edit.began || edit.recordId === recordId)
          .map((edit) => (
            <li key={edit.id} className="border-b border-rule py-1">
              <div className="flex flex-wrap items-center justify-between gap-x-3">
                <span>
                  {within && edit.recordId !== recordId && (
                    <b className="mr-2 font-mono">{edit.recordId.slice(recordId.length + 1).replace('/', ' ')}</b>
                  )}
                  {edit.person
                    ? `${edit.began ? 'begun' : 'changed'} by ${edit.person}`
                    : edit.began
                      ? 'taken in, or begun by nobody named'
                      : 'changed by nobody named'}
                </span>
                <span className="font-mono text-ink-2">
                  {dayOf(edit.at)} {clockOf(edit.at)}
                </span>
              </div>
              {!edit.began && (
                <div className="flex items-start gap-3">
                  <ul className="min-w-0 grow text-ink-2">
                    {edit.changes.map((change) => (
                      <li key={change.field} className="break-words">
                        {spaced(change.field)}: {shown(change.before)} → {shown(change.after)}
                      </li>
                    ))}
                  </ul>
                  <button
                    type="button"
                    className="link inline-flex min-h-[32px] shrink-0 items-center max-[899px]:min-h-[44px]"
                    disabled={back.isPending}
                    onClick={() => back.mutate(edit)}
                  >
                    Put back
                  </button>
                </div>
              )}
            </li>
          ))}
      </ul>
    </section>
  );
}
