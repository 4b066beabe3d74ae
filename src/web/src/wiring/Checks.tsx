import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type CheckRow, editChecks, editMachineChecks, getMachineChecks, type ModelPage } from '../api/generated';
import { ask } from '../api/ledger';
import { meterModes } from '../measuring/modes';
import { Problem } from '../ui/Problem';
import { LineTable } from './LineTable';

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

const columnsOf = (states: string[]) => [
  { id: 'red', label: 'Red probe', className: 'font-mono' },
  { id: 'black', label: 'Black probe', className: 'font-mono' },
  { id: 'mode', label: 'Meter', choices: meterModes.map(([, words]) => words) },
  { id: 'state', label: 'State', choices: states },
  { id: 'plugged', label: 'Plugged', choices: ['plugged', 'unplugged'] },
  { id: 'limit', label: 'Should read', className: 'font-mono' },
  { id: 'remark', label: 'Remark', className: 'min-w-[120px]' },
  { id: 'target', label: 'Of', choices: ['pin and common', 'pair', 'part', 'nothing'] },
];

/** The checks that reach from board to board, or stand at what is on none: all their lines in one table. */
export function ModelChecks({ model }: { model: ModelPage }) {
  const queries = useQueryClient();
  return (
    <LineTable
      title="Checks from board to board"
      empty="None yet. What lies on one board stands with that board; here stands what is read against another board, or at what is on none."
      name={`checks/${model.id}`}
      columns={columnsOf(model.wiring.states.map((s) => s.name))}
      fresh={fresh}
      first={{ version: model.versionOfChecks, rows: model.checks }}
      send={async (body, client) => {
        const taken = await ask(editChecks({ client, path: { id: model.id }, body }));
        queries.setQueryData<ModelPage>(
          ['model', model.id],
          (now) => now && { ...now, checks: taken.checks, versionOfChecks: taken.version },
        );
        return { ...taken, rows: taken.checks };
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
    <LineTable
      title={`Checks of ${tag} alone`}
      empty={`None yet. Here stands what is looked at on ${tag} and on no other of its model.`}
      name={`machine-checks/${tag}`}
      columns={columnsOf(states)}
      fresh={fresh}
      first={{ version: checks.data.version, rows: checks.data.checks }}
      send={async (body, client) => {
        const taken = await ask(editMachineChecks({ client, path: { id }, body }));
        return { ...taken, rows: taken.checks };
      }}
    />
  ) : (
    <Problem error={checks.error} />
  );
}
