import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { getBoardMap } from '../api/generated';
import { ask } from '../api/ledger';
import type { Facing } from './facing';

/** The map of one position as faced; the last one stays in sight while the next is fetched. */
export function useBoardMap(machineId: string, positionId: string | undefined, facing: Facing | undefined) {
  return useQuery({
    queryKey: ['map', machineId, positionId, facing?.turns, facing?.side],
    queryFn: () => ask(getBoardMap({ path: { machineId, positionId: positionId ?? '' }, query: { ...facing } })),
    enabled: positionId !== undefined && facing !== undefined,
    placeholderData: keepPreviousData,
    staleTime: 10_000,
  });
}
