import { useQuery } from '@tanstack/react-query';
import { getFacings } from '../api/generated';
import { ask } from '../api/ledger';

/** The open visit of a machine; null where none is. */
export function useOpenVisit(machineId: string): string | null {
  const faced = useQuery({
    queryKey: ['facings', machineId],
    queryFn: () => ask(getFacings({ path: { machineId } })),
  });
  return faced.data?.visitId ?? null;
}
