import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { type CheckRow, type CheckProblem, editChecks, type ModelPage } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { meterModes } from '../measuring/modes';
import { Grid } from '../ui/Grid';
import type { CellChange } from '../ui/grid';
import { Problem } from '../ui/Problem';
import { useWritten } from '../ui/useDraft';

const fresh = (id: string): CheckRow => ({
  id,
  target: '',
  red: '',
  black: '',
  mode: '',
  state: '',
  plugged: '',
  limit: '',
  remark: '',
});

const isBlank = (row: CheckRow) => Object.entries(row).every(([name, text]) => name === 'id' || text.trim() === '');

interface Waiting {
  rows: CheckRow[];
  problems: CheckProblem[];
}

/** The checks that reach from board to board, or stand at what is on none: all their lines in one table. */
export function ModelChecks({ model }: { model: ModelPage }) {
  const queries = useQueryClient();
  // Rows that the ledger has not taken: refused, or on their way; there again after a reload.
  const [waiting, setWaiting] = useWritten<Waiting>(`form/checks/${model.id}`, { rows: [], problems: [] });
  const past = useRef<CheckRow[][]>([]);
  const future = useRef<CheckRow[][]>([]);
  const put = useMutation({
    mutationFn: (rows: CheckRow[]) =>
      ask(editChecks({ path: { id: model.id }, body: { version: model.versionOfChecks, rows } })),
    onSuccess: (taken, rows) => {
      const bad = new Set(taken.problems.map((p) => p.row));
      setWaiting({ rows: rows.filter((r) => bad.has(r.id)), problems: taken.problems });
      queries.setQueryData<ModelPage>(
        ['model', model.id],
        (now) => now && { ...now, checks: taken.checks, versionOfChecks: taken.version },
      );
      for (const key of ['machine', 'round', 'start']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
    },
    // Somebody else may have written in between: what is typed waits, and is sent over what stands now.
    onError: () => void queries.invalidateQueries({ queryKey: ['model', model.id] }),
  });
  const kept = model.checks;
  const rows = [
    ...kept.map((row) => waiting.rows.find((w) => w.id === row.id) ?? row),
    ...waiting.rows.filter((w) => kept.every((row) => row.id !== w.id)),
  ];
  const send = (next: CheckRow[]) => {
    const said = next.filter((row) => !isBlank(row));
    // Kept on this device first: whatever becomes of the sending, it is not lost.
    setWaiting({ rows: said.filter((row) => !kept.includes(row)), problems: waiting.problems });
    put.mutate(said);
  };
  const change = (changes: CellChange[]) => {
    past.current.push(rows);
    future.current = [];
    const next = new Map(rows.map((row) => [row.id, row]));
    const made = newId();
    for (const { row, column, text } of changes) {
      const id = row === 'next' ? made : row;
      next.set(id, { ...(next.get(id) ?? fresh(id)), [column]: text });
    }
    send([...next.values()]);
  };
  const step = (from: React.RefObject<CheckRow[][]>, to: React.RefObject<CheckRow[][]>) => {
    const back = from.current.pop();
    if (back) {
      to.current.push(rows);
      send(back);
    }
  };
  const columns = [
    { id: 'red', label: 'Red probe', className: 'font-mono' },
    { id: 'black', label: 'Black probe', className: 'font-mono' },
    { id: 'mode', label: 'Meter', choices: meterModes.map(([, words]) => words) },
    { id: 'state', label: 'State', choices: model.wiring.states.map((s) => s.name) },
    { id: 'plugged', label: 'Plugged', choices: ['plugged', 'unplugged'] },
    { id: 'limit', label: 'Should read', className: 'font-mono' },
    { id: 'remark', label: 'Remark', className: 'min-w-[120px]' },
    { id: 'target', label: 'Of', choices: ['pin and common', 'pair', 'part', 'nothing'] },
  ];
  return (
    <section aria-label="Checks from board to board" className="mt-4">
      <h3 className="border-b border-rule-2 pb-1">
        Checks from board to board <span className="font-mono font-normal">{kept.length}</span>
      </h3>
      <div className="overflow-x-auto">
        <Grid
          label="Checks from board to board"
          columns={columns}
          rows={[...rows, fresh('next')].map(({ id, ...cells }) => ({ id, cells: { ...cells } }))}
          problems={new Map(waiting.problems.map((p) => [`${p.row}/${p.column}`, p.problem]))}
          typed={new Map()}
          newRow={newId}
          onChange={change}
          onUndo={() => step(past, future)}
          onRedo={() => step(future, past)}
          onRemove={(ids) => {
            past.current.push(rows);
            send(rows.filter((row) => !ids.includes(row.id)));
          }}
        />
      </div>
      <ul className="text-[14px] text-out">
        {waiting.problems.slice(0, 4).map((p) => (
          <li key={`${p.row}${p.column}`}>{p.problem}</li>
        ))}
      </ul>
      <Problem error={put.error} retry={() => put.mutate(rows)} />
      {kept.length === 0 && (
        <p className="py-1 text-[14px] text-ink-2">
          None yet. What lies on one board stands with that board; here stands what is read against another board, or at
          what is on none.
        </p>
      )}
    </section>
  );
}
