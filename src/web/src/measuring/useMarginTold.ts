import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { RoundView, VisitStart } from '../api/generated';

/** A reading may have ended what stands in the margin: it is asked for anew where the round knows otherwise. */
export function useMarginTold({ condition, visitId }: RoundView, start: VisitStart | undefined) {
  const queries = useQueryClient();
  const told = start?.safety.state.condition;
  const isTold = condition === null || told === undefined || told === condition;
  useEffect(() => {
    if (!isTold) {
      void queries.invalidateQueries({ queryKey: ['start', visitId] });
    }
  }, [isTold, queries, visitId]);
}
