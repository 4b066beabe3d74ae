import { useEffect, useRef, useState } from 'react';
import type { Client } from '../api/generated/client';
import { newId } from '../api/newId';
import { answerOf, handedTo } from './forms';
import { leaveOut, post } from './outbox';

interface ActOf<T> {
  /** What it is, in words, for the list of what waits. */
  words: string;
  machineId?: string;
  /** Asks for it by the client it is given, which is the way through what waits; once, and with an id made here. */
  send: (client: Client) => Promise<T>;
  /** It is on this device, ahead of its answer: the fields it was typed in are free. */
  sent?: () => void;
  /** Takes what was refused back into its fields; false where something else is typed there by now, so that it stays in the queue. */
  back?: () => boolean;
  /** It is off the page: the ledger has it, or it waits. */
  away?: () => void;
  taken?: (answer: T) => unknown;
}

/**
 * What is done by one press, through what waits on this device: it is on the device before it is on its way, in its order among all
 * else that was made, and goes with its page closed. What the ledger refuses comes back to its page while that is open; else it
 * steps aside with its reason.
 */
export function useAct<T>({ words, machineId = '', send, sent, back, away, taken }: ActOf<T>) {
  const [isPending, setIsPending] = useState(false);
  const [waits, setWaits] = useState(false);
  const [error, setError] = useState<Error | null>(null);
  const isOpen = useRef(true);
  useEffect(() => {
    isOpen.current = true;
    return () => void (isOpen.current = false);
  }, []);
  const act = async (): Promise<boolean> => {
    let end = '';
    const client = handedTo(async (asked) => {
      const id = newId();
      const delivery = await post({ id, ...asked, words, machineId });
      end = delivery.kind;
      if (delivery.kind === 'refused' && isOpen.current && (back?.() ?? true)) {
        await leaveOut(id);
      }
      return answerOf(delivery);
    });
    setIsPending(true);
    setError(null);
    setWaits(false);
    try {
      const answer = send(client);
      sent?.();
      const came = await answer;
      await taken?.(came);
      away?.();
      return true;
    } catch (failure) {
      if (end === 'waiting') {
        setWaits(true);
        away?.();
        return true;
      }
      setError(failure instanceof Error ? failure : new Error(String(failure)));
      return false;
    } finally {
      setIsPending(false);
    }
  };
  return { act: () => void act(), isPending, waits, error };
}
