import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { getReason, type ReasonView, type School } from '../api/generated';
import { ask } from '../api/ledger';
import { onTaken } from '../outbox/outbox';

const keptAt = (visitId: string) => `reason/${visitId}`;

/** What is suspected in a visit; without a signal, as it last stood. */
export function useReason(visitId: string, school: School, leftOut: readonly string[]) {
  const queries = useQueryClient();
  // What is written down elsewhere on this device, or comes on its way, counts at once.
  useEffect(() => onTaken(() => void queries.invalidateQueries({ queryKey: ['reason', visitId] })), [queries, visitId]);
  return useQuery<ReasonView>({
    queryKey: ['reason', visitId, school, leftOut.join('\n')],
    queryFn: async ({ signal }) => {
      const view = await ask(
        getReason({ path: { id: visitId }, query: { school, leftOut: leftOut.join('\n') }, signal }),
      );
      try {
        localStorage.setItem(keptAt(visitId), JSON.stringify(view));
      } catch {
        // No room on the device: the next page asks again.
      }
      return view;
    },
    placeholderData: (before) => before ?? recalled(visitId),
    refetchInterval: 20_000,
  });
}

function recalled(visitId: string): ReasonView | undefined {
  try {
    const kept = localStorage.getItem(keptAt(visitId));
    return kept ? (JSON.parse(kept) as ReasonView) : undefined;
  } catch {
    return undefined;
  }
}
