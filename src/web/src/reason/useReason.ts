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

/** The best act one act further ahead, once the first answer stands; null while nobody knows, or where it is the same. */
export function useFurther(view: ReasonView, school: School, leftOut: readonly string[], isFresh: boolean) {
  const known = view.known.map((k) => `${k.id} ${k.isDoubted}`).join('\n');
  const { data } = useQuery({
    queryKey: ['reasonFurther', view.visitId, school, leftOut.join('\n'), known],
    queryFn: ({ signal }) =>
      ask(
        getReason({
          path: { id: view.visitId },
          query: { school, leftOut: leftOut.join('\n'), further: true },
          signal,
        }),
      ),
    enabled: isFresh && view.level > 0 && view.next.length > 1 && view.suspects[0]?.standing !== 'proved',
    staleTime: Infinity,
    retry: false,
  });
  const best = data?.next[0];
  return best && best.id !== view.next[0]?.id ? (view.next.find((n) => n.id === best.id) ?? null) : null;
}

function recalled(visitId: string): ReasonView | undefined {
  try {
    const kept = localStorage.getItem(keptAt(visitId));
    return kept ? (JSON.parse(kept) as ReasonView) : undefined;
  } catch {
    return undefined;
  }
}
