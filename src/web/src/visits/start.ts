import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { getVisitStart, type StepStatus, type VisitStart, type VisitStep } from '../api/generated';
import { ask, Refusal } from '../api/ledger';
import { newId } from '../api/newId';
import { leaveOut, post } from '../outbox/outbox';
import type { MarkKind } from '../ui/Mark';

export const stepWords: Record<VisitStep, string> = {
  catch: 'Catch what goes when it is off',
  build: 'Which build',
  boards: 'Which boards',
  outsideChecks: 'Outside checks',
  lifeSafety: 'Life safety',
  provedDead: 'Prove it dead',
  look: 'Look the boards over',
};

export const statusWords: Record<StepStatus, string> = { open: 'open', done: 'done', skipped: 'skipped' };
export const statusMarks: Record<StepStatus, MarkKind> = { open: 'untouched', done: 'within', skipped: 'skipped' };

/** Arrive and Make safe of a visit, as the ledger works them out. */
export function useStart(visitId: string | undefined) {
  return useQuery({
    queryKey: ['start', visitId],
    queryFn: () => ask(getVisitStart({ path: { id: visitId ?? '' } })),
    enabled: visitId !== undefined,
    refetchInterval: 20_000,
  });
}

interface Sent {
  /** Below the visit, such as `observations`. */
  to: string;
  words: string;
  json: Record<string, unknown>;
  /** Takes what was refused back into its field; false where something else is typed there by now, so that it stays in the queue. */
  back?: () => boolean;
}

/**
 * Sends what was done in a visit through the device's outbox: it is on the device before it is on its way. What the ledger
 * refuses comes back as an error, off the device, since the technician is still there to do it again; where the hand has gone on,
 * it steps aside in the queue.
 */
export function useDone(start: Pick<VisitStart, 'visitId' | 'machineId' | 'tag'>) {
  const queries = useQueryClient();
  const [error, setError] = useState<Error | null>(null);
  const [waits, setWaits] = useState(false);
  const done = async ({ to, words, json, back }: Sent): Promise<boolean> => {
    const id = newId();
    setError(null);
    const delivery = await post({
      id,
      path: `/api/visits/${start.visitId}/${to}`,
      words: `${start.tag}: ${words}`,
      machineId: start.machineId,
      json: { id, personId: localStorage.getItem('person-id') ?? '', ...json },
    });
    setWaits(delivery.kind === 'waiting');
    if (delivery.kind === 'refused') {
      if (!back || back()) {
        await leaveOut(id);
      }
      setError(new Refusal(409, { ...delivery.problem, detail: delivery.why }));
      return false;
    }
    if (delivery.kind === 'taken') {
      // What was asked for before this was done would pass for newer.
      await queries.cancelQueries({ queryKey: ['start', start.visitId] });
      queries.setQueryData(['start', start.visitId], delivery.answer);
      for (const key of ['home', 'machine', 'round']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
    }
    return true;
  };
  return { done, error, waits };
}

let lastOrder = 0;

/** Rises with each act, across a reload too. */
export function nextAct(): number {
  lastOrder = Math.max(Date.now(), lastOrder + 1);
  return lastOrder;
}

/** Since a moment of this device's clock. */
export const secondsSince = (time: number): number => (Date.now() - time) / 1000;
