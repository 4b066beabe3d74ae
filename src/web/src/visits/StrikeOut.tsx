import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type ObservationView, retireObservation } from '../api/generated';
import { ask } from '../api/ledger';

/** Takes a line of a visit away again. */
export function StrikeOut({ observation, visitId }: { observation: ObservationView; visitId: string }) {
  const queries = useQueryClient();
  const strike = useMutation({
    mutationFn: () => ask(retireObservation({ path: { id: observation.id } })),
    onSuccess: (now) => queries.setQueryData(['start', visitId], now),
  });
  return (
    <button
      type="button"
      className={`link min-h-[28px] text-[14px] max-[899px]:min-h-[44px] ${strike.error ? 'text-out' : ''}`}
      aria-label={`Strike out: ${observation.text}`}
      onClick={() => strike.mutate()}
    >
      {strike.error ? 'not struck out; again' : 'Strike out'}
    </button>
  );
}
