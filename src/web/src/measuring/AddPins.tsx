import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { lookAtSheet, type MachineSheetAsk, type SheetTarget, takeSheet } from '../api/generated';
import { ask } from '../api/ledger';
import { Problem } from '../ui/Problem';
import { SheetGroups } from '../wiring/SheetGroups';

interface AddPinsProps {
  machineId: string;
  names: string[];
  added: () => void;
}

/** Pins that were called and nobody entered: they go into the record where one says, and the readings with them. */
export function AddPins({ machineId, names, added }: AddPinsProps) {
  const [targets, setTargets] = useState<Record<string, SheetTarget>>({});
  const queries = useQueryClient();
  const body: MachineSheetAsk = {
    text: `Pin\n${names.join('\n')}\n`,
    file: '',
    codePage: null,
    columns: [],
    targets,
    wires: {},
  };
  const where = useQuery({
    queryKey: ['called-where', machineId, JSON.stringify(body)],
    queryFn: () => ask(lookAtSheet({ path: { id: machineId }, body })),
    placeholderData: (before) => before,
  });
  const add = useMutation({
    mutationFn: () => ask(takeSheet({ path: { id: machineId }, body })),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['round'] });
      await queries.invalidateQueries({ queryKey: ['called'] });
      added();
    },
  });
  if (!where.data) {
    return <Problem error={where.error} />;
  }
  return (
    <section aria-label="Not entered yet" className="mt-2 border-l-4 border-rust pl-3">
      <h3 className="text-[15px]">Nobody entered {names.join(', ')} yet. Where is it?</h3>
      <SheetGroups
        view={where.data}
        usual={[]}
        groups={where.data.groups}
        say={(key, target) => setTargets({ ...targets, [key]: target })}
      />
      <button type="button" className="quiet mt-1 min-h-[44px]" disabled={add.isPending} onClick={() => add.mutate()}>
        Add {names.length === 1 ? 'this pin' : 'these pins'}
      </button>
      <Problem error={add.error} />
    </section>
  );
}
