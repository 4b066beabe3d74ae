import { useRef } from 'react';
import type { Link as WireLink, PinAddress } from '../api/generated';
import { Grid } from '../ui/Grid';
import type { CellChange } from '../ui/grid';
import { Key } from '../ui/Key';
import { useWritten } from '../ui/useDraft';
import { changed, freshRow, type PlacedPin, powerWords, problemsOf, rowOf, type WireRow } from './wires';

const columns = [
  { id: 'from', label: 'From here', className: 'font-mono w-[32%]' },
  { id: 'to', label: 'to there', className: 'font-mono w-[32%]' },
  { id: 'number', label: 'No.', className: 'font-mono' },
  { id: 'power', label: 'Power', choices: [...powerWords, 'fed by'] },
];

interface WireGridProps {
  /** Of which model; what waits in its rows is kept under it. */
  id: string;
  pins: PlacedPin[];
  wires: WireLink[];
  name: (at: PinAddress) => string;
  settle: (wires: WireLink[]) => void;
}

/** The wires as a table: typed, pasted as a block, filled down, taken back. */
export function WireGrid({ id, pins, wires, name, settle }: WireGridProps) {
  const [{ waiting, next }, write] = useWritten<{ waiting: WireRow[]; next: WireRow }>(`form/wires/${id}`, {
    waiting: [],
    next: { ...freshRow(), id: 'next' },
  });
  const past = useRef<WireLink[][]>([]);
  const future = useRef<WireLink[][]>([]);
  const rows = [...wires.map((w) => rowOf(w, name)), ...waiting, next];
  const keep = (now: WireLink[]) => {
    if (JSON.stringify(now) !== JSON.stringify(wires)) {
      past.current.push(wires);
      future.current = [];
      settle(now);
    }
  };
  const change = (changes: CellChange[]) => {
    // The last row becomes one that waits, or a wire; another stands below it.
    const isNext = changes.some((c) => c.row === 'next');
    const own = isNext ? freshRow().id : '';
    const meant = changes.map((c) => (c.row === 'next' ? { ...c, row: own } : c));
    const now = changed(wires, isNext ? [...waiting, { ...next, id: own }] : waiting, meant, pins, name);
    write({ waiting: now.waiting, next: { ...freshRow(), id: 'next' } });
    keep(now.wires);
  };
  const step = (from: React.RefObject<WireLink[][]>, to: React.RefObject<WireLink[][]>) => {
    const back = from.current.pop();
    if (back) {
      to.current.push(wires);
      settle(back);
    }
  };
  const problems = new Map(
    waiting.flatMap((row) =>
      Object.entries(problemsOf(row, pins)).map(([column, words]) => [`${row.id}/${column}`, words] as const),
    ),
  );
  return (
    <>
      <Grid
        label="Wires"
        columns={columns}
        rows={rows.map(({ id: row, ...cells }) => ({
          id: row,
          cells: row === 'next' && cells.from + cells.to === '' ? { ...cells, power: '' } : { ...cells },
        }))}
        problems={problems}
        onChange={change}
        newRow={() => freshRow().id}
        onUndo={() => step(past, future)}
        onRedo={() => step(future, past)}
        onRemove={(ids) => {
          write({ waiting: waiting.filter((w) => !ids.includes(w.id)), next });
          keep(wires.filter((w) => !ids.includes(w.id)));
        }}
      />
      {[...problems.values()].slice(0, 3).map((words) => (
        <p key={words} className="text-[14px] text-out">
          {words}
        </p>
      ))}
      <p className="py-1 text-[14px] text-ink-2">
        Type over a cell, or paste rows from a spreadsheet. <Key>Ctrl D</Key> fills down, <Key>Ctrl Z</Key> takes back,{' '}
        <Key>Shift Del</Key> strikes out.
      </p>
    </>
  );
}
