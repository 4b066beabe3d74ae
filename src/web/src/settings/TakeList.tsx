import { useMutation, useQueryClient } from '@tanstack/react-query';
import { takeSettings } from '../api/generated';
import { ask } from '../api/ledger';
import { More } from '../ui/More';
import { Problem } from '../ui/Problem';
import { useDraft } from '../ui/useDraft';

/** A list pasted, or from a CSV file: all of it or none, with every line that is not understood named. */
export function TakeList({ snapshotId }: { snapshotId: string }) {
  const queries = useQueryClient();
  const [text, setText] = useDraft(`settings-list/${snapshotId}`);
  const takeIn = useMutation({
    mutationFn: (body: Blob | string) =>
      ask(takeSettings({ path: { id: snapshotId }, body: body as string, bodySerializer: (b) => b as BodyInit })),
    onSuccess: async (taken) => {
      if (taken.snapshot) {
        setText('');
        await queries.invalidateQueries({ queryKey: ['settings'] });
      }
    },
  });
  const refused = takeIn.data?.lines.filter((l) => l.problem) ?? [];
  return (
    <More title="Paste a list, or take in a CSV file" className="mt-3 border-t border-rule py-1 text-[14px]">
      <label className="block">
        One setting a line: code, then value
        <textarea
          className="field mt-0.5 font-mono"
          rows={4}
          placeholder={'d1 1.8\nd2 3'}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <button type="button" className="quiet" disabled={!text.trim()} onClick={() => takeIn.mutate(text)}>
          Take the list in
        </button>
        <label>
          <span className="sr-only">A CSV file with the columns code and value</span>
          <input
            type="file"
            accept=".csv,.txt,text/csv"
            className="field"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) {
                takeIn.mutate(file);
              }
            }}
          />
        </label>
        {takeIn.data && refused.length === 0 && (
          <span className="text-within">{takeIn.data.lines.length} taken in</span>
        )}
      </div>
      <Problem error={takeIn.error} />
      {refused.length > 0 && (
        <div role="alert" className="mt-2 max-h-[260px] overflow-auto border-l-4 border-out bg-out-wash px-3 py-1">
          <b>{refused.length === 1 ? '1 line is' : `${refused.length} lines are`} not understood; none was written.</b>
          <ul>
            {refused.map((l) => (
              <li key={l.line}>
                Line {l.line}: {l.problem}
              </li>
            ))}
          </ul>
        </div>
      )}
    </More>
  );
}
