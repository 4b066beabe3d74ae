import { useQuery } from '@tanstack/react-query';
import { editMachineOverrides, getMachineOverrides, type OverrideRow } from '../api/generated';
import { ask } from '../api/ledger';
import { Problem } from '../ui/Problem';
import { LineTable } from './LineTable';

const fresh = (id: string): OverrideRow => ({
  id,
  pin: '',
  check: '',
  colours: '',
  signal: '',
  limit: '',
  reason: '',
});

/** What is so on one machine only, with its reason: a wire of another colour, a value that is right there off the book. */
export function MachineOverrides({ tag, id }: { tag: string; id: string }) {
  const overrides = useQuery({
    queryKey: ['machineOverrides', id],
    queryFn: () => ask(getMachineOverrides({ path: { id } })),
    staleTime: Infinity,
    refetchOnMount: 'always',
  });
  return overrides.data && overrides.isFetchedAfterMount ? (
    <LineTable
      title={`So on ${tag} only`}
      empty={`Nothing written yet. Here stands what is otherwise on ${tag} than on its model: a wire of another colour, a value that is right there off the book; each with its reason.`}
      name={`machine-overrides/${tag}`}
      columns={[
        { id: 'pin', label: 'Pin', className: 'font-mono' },
        { id: 'colours', label: 'Wire', className: 'font-mono' },
        { id: 'signal', label: 'What it does' },
        {
          id: 'check',
          label: 'Check',
          choices: [...new Set(overrides.data.checks.map((c) => c.name))],
        },
        { id: 'limit', label: 'Should read', className: 'font-mono' },
        { id: 'reason', label: 'Why', className: 'min-w-[160px]' },
      ]}
      fresh={fresh}
      first={{ version: overrides.data.version, rows: overrides.data.rows }}
      send={(body, client) => ask(editMachineOverrides({ client, path: { id }, body }))}
    />
  ) : (
    <Problem error={overrides.error} />
  );
}
