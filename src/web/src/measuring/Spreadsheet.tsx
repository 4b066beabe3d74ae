import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { takeReadings } from '../api/generated';
import { ask } from '../api/ledger';
import { More } from '../ui/More';
import { Problem } from '../ui/Problem';

/** The readings of the round as CSV, out and in; a list goes in whole or not at all. */
export function Spreadsheet({ roundId }: { roundId: string }) {
  const queries = useQueryClient();
  const takeIn = useMutation({
    mutationFn: (file: File) =>
      // The generated type says text; the file goes as it is.
      ask(
        takeReadings({ path: { id: roundId }, body: file as unknown as string, bodySerializer: (b) => b as BodyInit }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['round', roundId] }),
  });
  return (
    <More title="Paper and spreadsheet" className="mt-3 text-[14px]">
      <Link className="link flex min-h-[32px] items-center max-[899px]:min-h-[44px]" to={`/rounds/${roundId}/paper`}>
        On paper: out, and typed in
      </Link>
      <a className="link inline-flex min-h-[32px] items-center" href={`/api/rounds/${roundId}/readings.csv`} download>
        Out, as CSV
      </a>
      <label className="block">
        In, from CSV
        <input
          type="file"
          accept=".csv,.txt,text/csv"
          className="field mt-0.5 px-1"
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (file) {
              takeIn.mutate(file);
            }
          }}
        />
      </label>
      <Problem error={takeIn.error} />
      {takeIn.data && takeIn.data.refused.length === 0 && <p>{takeIn.data.taken} readings taken in.</p>}
      {takeIn.data && takeIn.data.refused.length > 0 && (
        <div role="alert" className="mt-1 max-h-[200px] overflow-auto border-l-4 border-out bg-out-wash px-2">
          <b>None was written.</b>
          <ul>
            {takeIn.data.refused.map((r) => (
              <li key={r.line}>
                Line {r.line}: {r.problem}
              </li>
            ))}
          </ul>
        </div>
      )}
    </More>
  );
}
