import { useRef } from 'react';
import type { CircuitRow, RowProblem } from '../api/generated';
import { newId } from '../api/newId';
import { Grid, type GridColumn } from '../ui/Grid';
import type { CellChange } from '../ui/grid';
import { Key } from '../ui/Key';

interface CircuitGridProps {
  /** Of which model. */
  id: string;
  rows: CircuitRow[];
  /** Parts and elements that a row may be about. */
  names: string[];
  /** What a row's What may begin with. */
  kinds: string[];
  problems: RowProblem[];
  settle: (rows: CircuitRow[]) => void;
}

const fresh = (id: string): CircuitRow => ({ id, part: '', between: '', what: '', onIn: '', onlyOn: '' });
const isField = (column: string): column is keyof Omit<CircuitRow, 'id'> =>
  ['part', 'between', 'what', 'onIn', 'onlyOn'].includes(column);

/** Rows of a circuit as a table: typed, pasted as a block, filled down, taken back. */
export function CircuitGrid({ id, rows, names, kinds, problems, settle }: CircuitGridProps) {
  const past = useRef<CircuitRow[][]>([]);
  const future = useRef<CircuitRow[][]>([]);
  const columns: GridColumn[] = [
    { id: 'part', label: 'Part', choices: names, className: 'font-mono w-[20%]' },
    { id: 'what', label: 'What it is, with its numbers', choices: kinds, className: 'font-mono w-[30%]' },
    { id: 'between', label: 'Between; else its own pins', className: 'font-mono w-[24%]' },
    { id: 'onIn', label: 'On in', className: 'font-mono' },
    { id: 'onlyOn', label: 'Only on', className: 'font-mono' },
  ];
  const keep = (now: CircuitRow[]) => {
    const said = now.filter((r) => r.part + r.between + r.what + r.onIn + r.onlyOn !== '');
    if (JSON.stringify(said) !== JSON.stringify(rows)) {
      past.current.push(rows);
      future.current = [];
      settle(said);
    }
  };
  const change = (changes: CellChange[]) => {
    const now = new Map(rows.map((r) => [r.id, r]));
    const own = newId();
    for (const { row, column, text } of changes) {
      const key = row === 'next' ? own : row;
      if (isField(column)) {
        now.set(key, { ...(now.get(key) ?? fresh(key)), [column]: text.trim() });
      }
    }
    keep([...now.values()]);
  };
  const step = (from: React.RefObject<CircuitRow[][]>, to: React.RefObject<CircuitRow[][]>) => {
    const back = from.current.pop();
    if (back) {
      to.current.push(rows);
      settle(back);
    }
  };
  return (
    <>
      <Grid
        key={id}
        label="Circuit"
        columns={columns}
        rows={[...rows, fresh('next')].map(({ id: row, ...cells }) => ({ id: row, cells }))}
        problems={new Map(problems.filter((p) => p.rowId).map((p) => [`${p.rowId}/${p.column}`, p.words]))}
        onChange={change}
        newRow={newId}
        onUndo={() => step(past, future)}
        onRedo={() => step(future, past)}
        onRemove={(ids) => keep(rows.filter((r) => !ids.includes(r.id)))}
      />
      <p className="py-1 text-[14px] text-ink-2">
        Type over a cell, or paste rows from a spreadsheet. <Key>Ctrl D</Key> fills down, <Key>Ctrl Z</Key> takes back,{' '}
        <Key>Shift Del</Key> strikes out.
      </p>
    </>
  );
}
