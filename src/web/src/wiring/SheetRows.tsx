import { useState } from 'react';
import type { LineKind, OperatingState, RowOutcome, RowPreview } from '../api/generated';
import { Choose } from '../ui/Choose';
import { Mark, type MarkKind } from '../ui/Mark';

const outcomes: Record<RowOutcome, readonly [words: string, mark: MarkKind]> = {
  added: ['new', 'here'],
  changed: ['changed', 'marginal'],
  same: ['as it is', 'within'],
  refused: ['refused', 'dead'],
  leftOut: ['left out', 'skipped'],
  noPin: ['', 'untouched'],
};

const kinds: Record<LineKind, string> = {
  pin: '',
  heading: 'heading',
  section: 'section',
  title: 'title',
  common: 'where the black probe stays',
  note: 'note, not taken in',
};

const first = 120;

/** What is in doubt or refused comes first; within that, and among the rest, the order of the sheet. */
const urgency = (row: RowPreview) => (row.outcome === 'refused' ? 0 : row.doubts.length > 0 ? 1 : 2);

interface SheetRowsProps {
  rows: RowPreview[];
  /** The states that a value may be said of. */
  states?: OperatingState[];
  /** Says of each value of a row in which state it is right. */
  say?: (row: RowPreview, states: string[]) => void;
}

/** The sheet beside what it becomes, row by row, the doubtful ones first. */
export function SheetRows({ rows, states, say }: SheetRowsProps) {
  const [all, setAll] = useState(false);
  const ordered = rows.toSorted((a, b) => urgency(a) - urgency(b) || a.row - b.row);
  const shown = all ? ordered : ordered.slice(0, first);
  return (
    <div className="overflow-auto" role="region" aria-label="Rows of the sheet" tabIndex={0}>
      <table className="w-full border-collapse text-[14px] min-[900px]:min-w-[600px]">
        <caption className="sr-only">Rows of the sheet</caption>
        <thead className="max-[899px]:sr-only">
          <tr className="border-b border-rule-2 text-left text-ink-2 [&>th]:py-1 [&>th]:pr-3 [&>th]:font-medium">
            <th scope="col">Line</th>
            <th scope="col">As written</th>
            <th scope="col">What it becomes</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((row) => (
            <Row key={row.row} row={row} states={states} say={say} />
          ))}
        </tbody>
      </table>
      {shown.length < ordered.length && (
        <button type="button" className="link min-h-[44px]" onClick={() => setAll(true)}>
          Show the other {ordered.length - shown.length} rows
        </button>
      )}
    </div>
  );
}

/** What can be said of a value other than its state; `SheetSaid` in Core has the same words. */
const otherwise = [
  { value: '~either', words: 'either is right' },
  { value: '~leftOut', words: 'never: leave it out' },
];

function Row({ row, states, say }: { row: RowPreview } & Partial<Pick<SheetRowsProps, 'states' | 'say'>>) {
  const [words, mark] = outcomes[row.outcome];
  return (
    <tr
      className={`border-b border-rule align-top max-[899px]:grid max-[899px]:grid-cols-[2.6rem_1fr] [&>td]:py-1 [&>td]:pr-3 ${row.kind === 'pin' ? '' : 'text-ink-2'}`}
    >
      <td className="font-mono whitespace-nowrap">
        {row.leaf && <span className="font-sans">{row.leaf} </span>}
        {row.line}
      </td>
      <td className="font-mono min-[900px]:w-[46%] text-[13px] break-words text-ink-2">
        {row.cells.filter(Boolean).join(' · ')}
      </td>
      <td className="max-[899px]:col-start-2 max-[899px]:pt-0">
        {row.kind === 'pin' ? (
          <span className="flex items-start gap-1.5">
            <span className="inline-flex shrink-0 items-center gap-1.5 text-ink-2">
              <Mark kind={mark} /> {words}
            </span>
            <span className="min-w-0">
              {row.problem ? <span className="text-out">{row.problem}</span> : <b>{row.understood}</b>}
            </span>
          </span>
        ) : (
          kinds[row.kind]
        )}
        {row.changes.length > 0 && row.outcome === 'changed' && <span className="block">{row.changes.join('; ')}</span>}
        {states && say && row.values.length > 1 && (
          <span className="mt-1 flex flex-wrap gap-3">
            {row.values.map((value, i) => (
              <label key={value.written} className="flex items-center gap-1.5">
                <span className="font-mono">{value.written}</span> when
                <Choose
                  name={`State of ${value.written} in line ${row.line}`}
                  className="w-[150px]"
                  value={value.state}
                  options={[...states.map((s) => ({ value: s.code, words: s.name })), ...otherwise]}
                  onChange={(code) =>
                    say(
                      row,
                      row.values.map((v, at) => (at === i ? code : v.state)),
                    )
                  }
                />
              </label>
            ))}
          </span>
        )}
        {row.doubts.map((doubt) => (
          <span key={doubt} className="block text-marginal">
            In doubt: {doubt}
          </span>
        ))}
      </td>
    </tr>
  );
}
