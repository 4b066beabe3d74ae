import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { CheckProblem } from '../api/generated';
import type { Client } from '../api/generated/client';
import { Refusal } from '../api/ledger';
import { newId } from '../api/newId';
import { Grid } from '../ui/Grid';
import type { CellChange } from '../ui/grid';
import type { GridColumn } from '../ui/Grid';
import { KeptProblem, KeptWord } from '../ui/Kept';
import { KeptInPart, useKeeping } from '../ui/useKeeping';

const isBlank = (row: object) =>
  Object.entries(row).every(([name, text]) => name === 'id' || (text as string).trim() === '');

interface Edit<Row> {
  version: number;
  rows: Row[];
}

interface LineTableProps<Row extends { id: string }> {
  title: string;
  /** What the table is for, said while nothing stands in it. */
  empty: string;
  /** Of its draft, see {@link useKeeping}. */
  name: string;
  columns: GridColumn[];
  /** A row in which nothing is written. */
  fresh: (id: string) => Row;
  first: Edit<Row>;
  send: (edit: Edit<Row>, client: Client) => Promise<Edit<Row> & { problems: CheckProblem[] }>;
}

/** Lines in a table, each kept as it is written; one in which something is wrong waits as it was typed and holds up no other. */
export function LineTable<Row extends { id: string }>({
  title,
  empty,
  name,
  columns,
  fresh,
  first,
  send,
}: LineTableProps<Row>) {
  const queries = useQueryClient();
  const [problems, setProblems] = useState<CheckProblem[]>([]);
  const { edit, write, kept, keep, keepOver, settle, isChanged, isKeeping, error } = useKeeping<Edit<Row>>(
    name,
    first,
    async (next, client) => {
      const taken = await send(next, client);
      setProblems(taken.problems);
      for (const key of ['machine', 'round', 'start']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
      const now = { version: taken.version, rows: taken.rows };
      if (taken.problems.length > 0) {
        // A row in which something is wrong stays as it was typed, and holds up no other.
        throw new KeptInPart(now, new Refusal(422, { detail: taken.problems[0]?.problem ?? '' }));
      }
      return { version: taken.version, as: now };
    },
  );
  const { rows } = edit;
  const past = useRef<Row[][]>([]);
  const future = useRef<Row[][]>([]);
  const put = (next: Row[]) => {
    const said = { ...edit, rows: next.filter((row) => !isBlank(row)) };
    write(said);
    void keep(said);
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
    put([...next.values()]);
  };
  const step = (from: React.RefObject<Row[][]>, to: React.RefObject<Row[][]>) => {
    const back = from.current.pop();
    if (back) {
      to.current.push(rows);
      put(back);
    }
  };
  return (
    <section aria-label={title} className="mt-4">
      <h3 className="flex items-baseline gap-3 border-b border-rule-2 pb-1">
        <span className="grow">
          {title} <span className="font-mono font-normal">{kept.rows.length}</span>
        </span>
        {(isKeeping || isChanged) && <KeptWord isKeeping={isKeeping} isChanged={isChanged} />}
      </h3>
      <div className="overflow-x-auto">
        <Grid
          label={title}
          columns={columns}
          rows={[...rows, fresh('next')].map(({ id, ...cells }) => ({
            id,
            cells: { ...cells } as Record<string, string>,
          }))}
          problems={new Map(problems.map((p) => [`${p.row}/${p.column}`, p.problem]))}
          newRow={newId}
          onChange={change}
          onUndo={() => step(past, future)}
          onRedo={() => step(future, past)}
          onRemove={(ids) => {
            past.current.push(rows);
            put(rows.filter((row) => !ids.includes(row.id)));
          }}
        />
      </div>
      {problems.length > 1 && (
        <ul className="text-[14px] text-out">
          {problems.slice(1, 4).map((p) => (
            <li key={`${p.row}${p.column}`}>{p.problem}</li>
          ))}
        </ul>
      )}
      <KeptProblem error={error} edit={edit} keepMine={(over) => void keepOver(edit, over)} takeTheirs={settle} />
      {kept.rows.length === 0 && <p className="py-1 text-[14px] text-ink-2">{empty}</p>}
    </section>
  );
}
