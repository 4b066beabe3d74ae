import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { getBoardMap } from '../api/generated';
import { ask } from '../api/ledger';
import type { Facing } from './facing';

/** The map of one position as faced; the last one stays in sight while the next is fetched. */
export function useBoardMap(machineId: string, positionId: string | undefined, { turns, mirrored }: Facing) {
  return useQuery({
    queryKey: ['map', machineId, positionId, turns, mirrored],
    queryFn: () => ask(getBoardMap({ path: { machineId, positionId: positionId ?? '' }, query: { turns, mirrored } })),
    enabled: positionId !== undefined,
    placeholderData: keepPreviousData,
    staleTime: 10_000,
  });
}
