import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import { type CircuitPageView, getCircuit, getMachine, type MachinePage } from '../api/generated';
import { ask } from '../api/ledger';
import { PlaceMargin } from '../machines/MachineMargin';
import { OpeningPage } from '../ui/OpeningPage';
import { CircuitTable } from './CircuitTable';
import { type CircuitTab, circuitTabs, type CircuitViewProps } from './CircuitTabs';
import { WhatItReads } from './WhatItReads';
import { WhatProves } from './WhatProves';

/** The circuit of a machine: what each part is to the current, and what every pin should read by that. */
export function CircuitPage() {
  const { tag = '' } = useParams();
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
  return (
    <OfMachine key={tag} tag={tag} machine={machine.data} circuit={circuit.data} fresh={() => void circuit.refetch()} />
  );
}

interface OfMachineProps {
  tag: string;
  machine: MachinePage;
  circuit: CircuitPageView;
  fresh: () => void;
}

function OfMachine({ tag, machine, circuit, fresh }: OfMachineProps) {
  const [at, setAt] = useSearchParams();
  // Decided once: the page does not turn under whoever enters the first source.
  const [first] = useState<CircuitTab>(circuit.hasCircuit ? 'reads' : 'parts');
  const tab = circuitTabs.find((t) => t === at.get('view')) ?? first;
  const show = (next: CircuitTab) =>
    setAt(
      (now) => {
        now.set('view', next);
        return now;
      },
      { replace: true },
    );
  const common: CircuitViewProps = { tag, machine, circuit, tab, show, margin: <PlaceMargin tag={tag} /> };
  return tab === 'parts' ? (
    <CircuitTable {...common} fresh={fresh} />
  ) : tab === 'proves' ? (
    <WhatProves {...common} />
  ) : (
    <WhatItReads {...common} />
  );
}
