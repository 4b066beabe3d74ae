import type { FunctionRow, FunctionSheet, OperatingState } from '../api/generated';
import { Choose } from '../ui/Choose';
import { useCells } from '../ui/useCells';
import { AddLine, isSameName, Name } from './lines';
import { FedFrom, Rails, railsOf } from './Rails';

interface FunctionTableProps {
  /** Whose table it is, for what is being typed in it. */
  draft: string;
  sheet: FunctionSheet;
  states: readonly OperatingState[];
  settle: (sheet: FunctionSheet) => void;
  add: (name: string) => boolean;
}

type Tick = 'needs' | 'oneOf' | '';

const tickOf = (row: FunctionRow, part: string): Tick =>
  row.needs.includes(part) ? 'needs' : row.oneOf.includes(part) ? 'oneOf' : '';

const words: Record<Tick, string> = { needs: 'needed', oneOf: 'one of several', '': 'not needed' };
const next: Record<Tick, Tick> = { '': 'needs', needs: 'oneOf', oneOf: '' };

/** Functions by parts, a tick each. */
export function FunctionTable({ draft, sheet, states, settle, add }: FunctionTableProps) {
  const { table, cell } = useCells();
  const rows = (change: (row: FunctionRow) => FunctionRow, id: string) =>
    settle({ ...sheet, rows: sheet.rows.map((r) => (r.id === id ? change(r) : r)) });
  const tick = (row: FunctionRow, part: string) => {
    const to = next[tickOf(row, part)];
    const without = (all: readonly string[]) => all.filter((p) => p !== part);
    rows(
      (r) => ({
        ...r,
        needs: to === 'needs' ? [...without(r.needs), part] : without(r.needs),
        oneOf: to === 'oneOf' ? [...without(r.oneOf), part] : without(r.oneOf),
      }),
      row.id,
    );
  };
  const renamePart = (from: string, name: string): boolean => {
    if (sheet.parts.some((p) => p !== from && isSameName(p, name))) {
      return false;
    }
    const rename = (all: readonly string[]) => all.flatMap((p) => (p !== from ? [p] : name ? [name] : []));
    settle({
      parts: rename(sheet.parts),
      rows: sheet.rows.map((r) => ({ ...r, needs: rename(r.needs), oneOf: rename(r.oneOf) })),
      rails: railsOf(sheet).map((r) => ({ ...r, behind: rename([r.behind])[0] ?? '', parts: rename(r.parts) })),
    });
    return true;
  };
  const renameFunction = (id: string, name: string): boolean => {
    if (sheet.rows.some((r) => r.id !== id && isSameName(r.name, name))) {
      return false;
    }
    settle({ ...sheet, rows: sheet.rows.flatMap((r) => (r.id !== id ? [r] : name ? [{ ...r, name }] : [])) });
    return true;
  };
  return (
    <>
      {sheet.rows.length > 0 && (
        <div className="mt-2 overflow-x-auto" role="region" aria-label="Functions by parts" tabIndex={0}>
          <table ref={table} className="border-collapse text-[14px]">
            <thead>
              <tr className="align-bottom">
                <th scope="col" className="min-w-[170px] text-left">
                  What one can see
                </th>
                <th scope="col" className="min-w-[120px] text-left">
                  In
                </th>
                {sheet.parts.map((part) => (
                  <th key={part} scope="col" className="px-0.5 text-left align-bottom">
                    <Name
                      draft={draft}
                      label={`Part ${part}`}
                      value={part}
                      className="h-[104px] w-[34px] [writing-mode:vertical-rl]"
                      keep={(to) => renamePart(part, to)}
                    />
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {sheet.rows.map((row, r) => (
                <tr key={row.id} className="border-t border-rule">
                  <th scope="row" className="text-left font-normal">
                    <Name
                      draft={draft}
                      label={`Function ${row.name}`}
                      value={row.name}
                      className="w-full"
                      keep={(name) => renameFunction(row.id, name)}
                    />
                  </th>
                  <td className="px-1">
                    <Choose
                      name={`State of ${row.name}`}
                      value={row.state}
                      options={[
                        { value: '', words: 'any' },
                        ...states.filter((s) => s.energised).map((s) => ({ value: s.code, words: s.name })),
                      ]}
                      onChange={(state) => rows((x) => ({ ...x, state }), row.id)}
                    />
                  </td>
                  {sheet.parts.map((part, c) => {
                    const ticked = tickOf(row, part);
                    return (
                      <td key={part} className="text-center">
                        <button
                          type="button"
                          {...cell(r, c)}
                          aria-label={`${row.name}, ${part}: ${words[ticked]}`}
                          className="inline-flex h-[34px] w-[34px] cursor-pointer items-center justify-center hover:bg-rust-wash max-[899px]:h-[44px] max-[899px]:w-[44px]"
                          onClick={() => tick(row, part)}
                        >
                          <Ticked tick={ticked} />
                        </button>
                      </td>
                    );
                  })}
                </tr>
              ))}
              {railsOf(sheet).length > 0 && <FedFrom sheet={sheet} settle={settle} cell={cell} />}
            </tbody>
          </table>
        </div>
      )}
      <div className="mt-3 grid gap-3 min-[900px]:grid-cols-2">
        <AddLine name={`${draft}/function`} label="One more function" example="such as belt 1 runs" add={add} />
        <AddLine
          name={`${draft}/part`}
          label="One more part"
          example="such as cable to the display"
          add={(part) => {
            const isNew = !sheet.parts.some((p) => isSameName(p, part));
            if (isNew) {
              settle({ ...sheet, parts: [...sheet.parts, part] });
            }
            return isNew;
          }}
        />
      </div>
      {sheet.rows.length > 0 && <Rails draft={draft} sheet={sheet} settle={settle} />}
    </>
  );
}

function Ticked({ tick }: { tick: Tick }) {
  return (
    <svg viewBox="-8 -8 16 16" width={16} height={16} aria-hidden="true">
      {tick === 'needs' && <circle r={6} className="fill-ink" />}
      {tick === 'oneOf' && (
        <>
          <circle r={5.5} fill="none" className="stroke-ink" strokeWidth={1.5} />
          <path d="M0,-5.5 A5.5,5.5 0 0 1 0,5.5 Z" className="fill-ink" />
        </>
      )}
      {tick === '' && <circle r={1.2} className="fill-idle" />}
    </svg>
  );
}
