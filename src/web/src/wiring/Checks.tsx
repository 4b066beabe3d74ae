import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import {
  type CheckProblem,
  type CheckRow,
  type ChecksEdit,
  type ChecksTaken,
  editChecks,
  editMachineChecks,
  getMachineChecks,
  type ModelPage,
} from '../api/generated';
import type { Client } from '../api/generated/client';
import { ask, Refusal } from '../api/ledger';
import { newId } from '../api/newId';
import { meterModes } from '../measuring/modes';
import { Grid } from '../ui/Grid';
import type { CellChange } from '../ui/grid';
import { KeptProblem, KeptWord } from '../ui/Kept';
import { Problem } from '../ui/Problem';
import { KeptInPart, useKeeping } from '../ui/useKeeping';

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

/** The checks that reach from board to board, or stand at what is on none: all their lines in one table. */
export function ModelChecks({ model }: { model: ModelPage }) {
  const queries = useQueryClient();
  return (
    <Checks
      title="Checks from board to board"
      empty="None yet. What lies on one board stands with that board; here stands what is read against another board, or at what is on none."
      name={`checks/${model.id}`}
      states={model.wiring.states.map((s) => s.name)}
      first={{ version: model.versionOfChecks, rows: model.checks }}
      send={async (body, client) => {
        const taken = await ask(editChecks({ client, path: { id: model.id }, body }));
        queries.setQueryData<ModelPage>(
          ['model', model.id],
          (now) => now && { ...now, checks: taken.checks, versionOfChecks: taken.version },
        );
        return taken;
      }}
    />
  );
}

/** What is looked at on one machine alone: its model and its boards, and so its sisters, know nothing of it. */
export function MachineChecks({ tag, id, states }: { tag: string; id: string; states: string[] }) {
  const checks = useQuery({
    queryKey: ['machineChecks', id],
    queryFn: () => ask(getMachineChecks({ path: { id } })),
    staleTime: Infinity,
    refetchOnMount: 'always',
  });
  return checks.data && checks.isFetchedAfterMount ? (
    <Checks
      title={`Checks of ${tag} alone`}
      empty={`None yet. Here stands what is looked at on ${tag} and on no other of its model.`}
      name={`machine-checks/${tag}`}
      states={states}
      first={{ version: checks.data.version, rows: checks.data.checks }}
      send={(body, client) => ask(editMachineChecks({ client, path: { id }, body }))}
    />
  ) : (
    <Problem error={checks.error} />
  );
}

interface ChecksProps {
  title: string;
  empty: string;
  /** Of its draft, see {@link useKeeping}. */
  name: string;
  states: string[];
  first: ChecksEdit;
  send: (edit: ChecksEdit, client: Client) => Promise<ChecksTaken>;
}

function Checks({ title, empty, name, states, first, send }: ChecksProps) {
  const queries = useQueryClient();
  const [problems, setProblems] = useState<CheckProblem[]>([]);
  const { edit, write, kept, keep, keepOver, settle, isChanged, isKeeping, error } = useKeeping<ChecksEdit>(
    name,
    first,
    async (next, client) => {
      const taken = await send(next, client);
      setProblems(taken.problems);
      for (const key of ['machine', 'round', 'start']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
      const now = { version: taken.version, rows: taken.checks };
      if (taken.problems.length > 0) {
        // A row in which something is wrong stays as it was typed, and holds up no other.
        throw new KeptInPart(now, new Refusal(422, { detail: taken.problems[0]?.problem ?? '' }));
      }
      return { version: taken.version, as: now };
    },
  );
  const { rows } = edit;
  const past = useRef<CheckRow[][]>([]);
  const future = useRef<CheckRow[][]>([]);
  const put = (next: CheckRow[]) => {
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
  const step = (from: React.RefObject<CheckRow[][]>, to: React.RefObject<CheckRow[][]>) => {
    const back = from.current.pop();
    if (back) {
      to.current.push(rows);
      put(back);
    }
  };
  const columns = [
    { id: 'red', label: 'Red probe', className: 'font-mono' },
    { id: 'black', label: 'Black probe', className: 'font-mono' },
    { id: 'mode', label: 'Meter', choices: meterModes.map(([, words]) => words) },
    { id: 'state', label: 'State', choices: states },
    { id: 'plugged', label: 'Plugged', choices: ['plugged', 'unplugged'] },
    { id: 'limit', label: 'Should read', className: 'font-mono' },
    { id: 'remark', label: 'Remark', className: 'min-w-[120px]' },
    { id: 'target', label: 'Of', choices: ['pin and common', 'pair', 'part', 'nothing'] },
  ];
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
          rows={[...rows, fresh('next')].map(({ id, ...cells }) => ({ id, cells: { ...cells } }))}
          problems={new Map(problems.map((p) => [`${p.row}/${p.column}`, p.problem]))}
          typed={new Map()}
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
