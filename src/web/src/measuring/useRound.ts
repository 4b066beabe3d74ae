import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { getRound, type RoundView } from '../api/generated';
import { ask, Unreachable } from '../api/ledger';
import { onArrival, recall, remember, withChange } from './lines';

/** Another device's readings are seen this often. */
const lookAgainAfter = 2500;

/** A round as the server last told it; from the device's memory where the server is gone. */
export function useRound(roundId: string | undefined) {
  const queries = useQueryClient();
  useEffect(
    () =>
      onArrival((change) => {
        // A look that began before the line arrived must not bring the older round back.
        void queries.cancelQueries({ queryKey: ['round', change.id] });
        queries.setQueryData<RoundView>(['round', change.id], (known) => known && withChange(known, change));
      }),
    [queries],
  );
  return useQuery({
    queryKey: ['round', roundId],
    queryFn: async () => {
      try {
        const view = await ask(getRound({ path: { id: roundId ?? '' } }));
        await remember(view);
        return view;
      } catch (error) {
        const known = error instanceof Unreachable ? await recall(roundId ?? '') : undefined;
        if (known) {
          return known;
        }
        throw error;
      }
    },
    enabled: roundId !== undefined,
    retry: false,
    refetchInterval: lookAgainAfter,
  });
}
