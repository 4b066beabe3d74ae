import type { SheetColumnView, TerminalColumn } from '../api/generated';
import { Choose, optionsOf } from '../ui/Choose';
import { More } from '../ui/More';

const names: Record<TerminalColumn, string> = {
  board: 'Board',
  connector: 'Connector',
  pin: 'Pin',
  colour: 'Wire colour',
  wireNumber: 'Wire number',
  signal: 'What it does',
  feeds: 'Feeds',
  fedBy: 'Fed by',
  joinedTo: 'Joined to',
  mode: 'Meter mode',
  common: 'Black probe',
  otherEnd: 'Other end of a pair',
  expected: 'Should read',
  state: 'State',
  plugged: 'Plugged',
  remark: 'Remark',
};

export type ColumnAnswer = { place: number; column: TerminalColumn | null };

interface SheetColumnsProps {
  columns: SheetColumnView[];
  guessed: boolean;
  said: ColumnAnswer[];
  say: (answers: ColumnAnswer[]) => void;
}

/** What each column holds; those nobody understands are asked about, once. */
export function SheetColumns({ columns, guessed, said, say }: SheetColumnsProps) {
  const answer = (place: number, column: TerminalColumn | null) =>
    say([...said.filter((s) => s.place !== place), { place, column }]);
  const unknown = columns.filter((c) => c.column === null);
  const known = columns.filter((c) => c.column !== null);
  const options = (none: string) => [{ value: '' as const, words: none }, ...optionsOf(names)];
  return (
    <>
      {unknown.map((c) => (
        <label key={c.place} className="flex flex-wrap items-center gap-3 border-b border-rule py-1.5">
          <span className="min-w-0 grow">
            What is in <b>“{c.heading}”</b>?{' '}
            <span className="font-mono text-[14px] text-ink-2">{c.samples.join(' · ')}</span>
          </span>
          <Choose
            name={`What is in ${c.heading}`}
            className="w-[190px]"
            value=""
            options={[
              { value: '', words: 'choose' },
              { value: 'none', words: 'nothing of use' },
              ...optionsOf<TerminalColumn | 'none'>(Object.entries(names) as [TerminalColumn, string][]),
            ]}
            onChange={(column: TerminalColumn | 'none' | '') => {
              if (column !== '') {
                answer(c.place, column === 'none' ? null : column);
              }
            }}
          />
        </label>
      ))}
      <More
        title={
          <>
            {guessed ? 'No headings; by what stands in them: ' : 'Columns: '}
            {known.map((c) => `${names[c.column ?? 'pin']} from “${c.heading}”`).join(', ')}
          </>
        }
        className="border-b border-rule py-1 text-[14px]"
      >
        <div className="mt-2 grid grid-cols-2 gap-3 min-[1100px]:grid-cols-4">
          {known.map((c) => (
            <label key={c.place} className="text-[14px]">
              “{c.heading}”
              <Choose
                name={`What is in ${c.heading}`}
                className="mt-0.5 w-full"
                value={c.column ?? ''}
                options={options('nothing of use')}
                onChange={(column) => answer(c.place, column === '' ? null : column)}
              />
            </label>
          ))}
        </div>
      </More>
    </>
  );
}
