import { useQuery } from '@tanstack/react-query';
import { useParams, useSearchParams } from 'react-router';
import { getCircuit, getMachine } from '../api/generated';
import { ask } from '../api/ledger';
import { PlaceMargin } from '../machines/MachineMargin';
import { OpeningPage } from '../ui/OpeningPage';
import { CircuitTable } from './CircuitTable';
import { WhatItReads } from './WhatItReads';
import { WhatProves } from './WhatProves';

export type CircuitTab = 'reads' | 'proves' | 'parts';

/** The circuit of a machine: what each part is to the current, and what every pin should read by that. */
export function CircuitPage() {
  const { tag = '' } = useParams();
  const [at, setAt] = useSearchParams();
  const machine = useQuery({ queryKey: ['machine', tag], queryFn: () => ask(getMachine({ path: { id: tag } })) });
  const circuit = useQuery({
    queryKey: ['circuit', tag],
    queryFn: () => ask(getCircuit({ path: { id: tag } })),
    staleTime: Infinity,
    refetchOnMount: 'always',
  });
  if (!machine.data || !circuit.data || !circuit.isFetchedAfterMount) {
    return <OpeningPage tag={tag} title="Circuit" words="Working out the circuit…" of={[machine, circuit]} />;
  }
  const asked = at.get('view');
  const tab: CircuitTab =
    asked === 'parts' || asked === 'reads' || asked === 'proves' ? asked : circuit.data.hasCircuit ? 'reads' : 'parts';
  const show = (next: CircuitTab) =>
    setAt(
      (now) => {
        now.set('view', next);
        return now;
      },
      { replace: true },
    );
  const common = {
    tag,
    machine: machine.data,
    circuit: circuit.data,
    tab,
    show,
    margin: <PlaceMargin tag={tag} />,
  };
  return tab === 'parts' ? (
    <CircuitTable {...common} fresh={() => void circuit.refetch()} />
  ) : tab === 'proves' ? (
    <WhatProves {...common} />
  ) : (
    <WhatItReads {...common} />
  );
}
