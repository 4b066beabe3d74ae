import { useState } from 'react';
import type { CircuitRow, OperatingState, SwitchingView } from '../api/generated';
import { newId } from '../api/newId';
import { useCells } from '../ui/useCells';
import { useDraft } from '../ui/useDraft';

interface SwitchTableProps {
  rows: readonly CircuitRow[];
  switching: readonly SwitchingView[];
  states: readonly OperatingState[];
  settle: (rows: CircuitRow[]) => void;
}

type When = Pick<SwitchingView, 'on' | 'if' | 'after'>;

/** As the ledger reads it: the states, then the condition, then how long all of it must be so. */
const written = (when: When, states: readonly OperatingState[]) =>
  (when.on.length === states.length ? 'always' : when.on.join(', ') || 'never') +
  (when.if && ` if ${when.if}`) +
  (when.after && ` after ${when.after}`);

/** When each switch is closed and each output on: a tick per state, what its board wants to see first, and for how long. */
export function SwitchTable({ rows, switching, states, settle }: SwitchTableProps) {
  const { table, cell } = useCells();
  // What was said here and is not worked out yet, by its row: two ticks in a row both count.
  const [said, setSaid] = useState<Record<string, SwitchingView & { text: string }>>({});
  const spoken = new Map(rows.map((r) => [r.id, r]));
  const standing = (line: SwitchingView) => {
    const own = said[line.rowId];
    return own && own.text === spoken.get(line.rowId)?.onIn ? own : line;
  };
  const parts = new Set(rows.map((r) => r.part));
  const known = new Set(switching.map((line) => line.rowId));
  const lines = [
    ...switching.filter((line) => (line.rowId === '' ? !parts.has(line.part) : spoken.has(line.rowId))).map(standing),
    // One whose condition is not understood stays in sight.
    ...Object.values(said).filter((line) => !known.has(line.rowId) && spoken.get(line.rowId)?.onIn === line.text),
  ];
  if (lines.length === 0) {
    return null;
  }
  const say = (line: SwitchingView, change: Partial<When>) => {
    const when = { ...line, ...change };
    const rowId = line.rowId || newId();
    const text = written(when, states);
    setSaid({ ...said, [rowId]: { ...when, rowId, text } });
    settle(
      line.rowId === ''
        ? [...rows, { id: rowId, part: line.part, between: '', what: 'switch', onIn: text, onlyOn: '' }]
        : rows.map((r) => (r.id === rowId ? { ...r, onIn: text } : r)),
    );
  };
  return (
    <>
      <h2 className="title mt-6">What is on when</h2>
      <p className="text-[14px] text-ink-2">
        A full circle: closed in that state, or switched on by its board. Only if: what the board wants to see first.
        After: how long all of it must be so; it opens at once.
      </p>
      <div className="mt-1 overflow-x-auto" role="region" aria-label="What is on when" tabIndex={0}>
        <table ref={table} className="w-full border-collapse text-[14px]">
          <thead>
            <tr className="border-b border-rule-2 align-bottom">
              <th scope="col" className="text-left">
                Part
              </th>
              {states.map((state) => (
                <th key={state.code} scope="col" className="max-w-[92px] px-1 font-normal">
                  {state.name}
                </th>
              ))}
              <th scope="col" className="min-w-[150px] px-1 text-left font-normal">
                Only if
              </th>
              <th scope="col" className="w-[76px] px-1 text-left font-normal">
                After
              </th>
            </tr>
          </thead>
          <tbody>
            {lines.map((line, r) => (
              <tr key={line.rowId || line.part} className="border-b border-rule">
                <th scope="row" className="text-left font-normal">
                  <span className="font-mono">{line.part}</span>
                  {line.rowId === '' && <span className="text-ink-2"> (assumed)</span>}
                </th>
                {states.map((state, c) => {
                  const isOn = line.on.includes(state.code);
                  return (
                    <td key={state.code} className="text-center">
                      <button
                        type="button"
                        {...cell(r, c)}
                        aria-pressed={isOn}
                        aria-label={`${line.part} closed in ${state.name}`}
                        className="inline-flex h-[34px] w-[34px] cursor-pointer items-center justify-center hover:bg-rust-wash max-[899px]:h-[44px] max-[899px]:w-[44px]"
                        onClick={() =>
                          say(line, {
                            on: states.map((s) => s.code).filter((s) => line.on.includes(s) !== (s === state.code)),
                          })
                        }
                      >
                        <svg viewBox="-8 -8 16 16" width={16} height={16} aria-hidden="true">
                          <circle r={isOn ? 6 : 1.2} className={isOn ? 'fill-ink' : 'fill-idle'} />
                        </svg>
                      </button>
                    </td>
                  );
                })}
                <td className="px-1">
                  <Said
                    key={line.if}
                    label={`${line.part} only if`}
                    name={`switching/${line.rowId || line.part}/if`}
                    value={line.if}
                    keep={(text) => say(line, { if: text })}
                  />
                </td>
                <td className="px-1">
                  <Said
                    key={line.after}
                    label={`${line.part} after`}
                    name={`switching/${line.rowId || line.part}/after`}
                    value={line.after}
                    keep={(text) => say(line, { after: text })}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

/** A text that counts when it is left or Enter is pressed; until then it stays, over a reload as well. */
function Said({
  label,
  name,
  value,
  keep,
}: {
  label: string;
  name: string;
  value: string;
  keep: (text: string) => void;
}) {
  const [text, setText] = useDraft(name, value);
  const settle = () => {
    if (text.trim() !== value) {
      keep(text.trim());
    }
    setText(value);
  };
  return (
    <input
      aria-label={label}
      className="w-full border-0 border-b border-dotted border-rule-2 bg-transparent px-1 py-1 font-mono max-[899px]:min-h-[44px]"
      autoComplete="off"
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={settle}
      onKeyDown={(event) => {
        if (event.key === 'Enter') {
          event.currentTarget.blur();
        } else if (event.key === 'Escape') {
          setText(value);
        }
      }}
    />
  );
}
