import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { editFault, type FaultEdit, type FaultView } from '../api/generated';
import { ask } from '../api/ledger';

/**
 * Keeps a fault as it is written, one request after the other, each made from the version before it. What is
 * written while one is on its way goes with the next.
 */
export function useKeeping(fault: FaultView, first: FaultEdit) {
  const [kept, setKept] = useState(first);
  const [isKeeping, setIsKeeping] = useState(false);
  const [error, setError] = useState<Error | null>(null);
  const version = useRef(fault.version);
  const wanted = useRef<FaultEdit | null>(null);
  const busy = useRef(false);
  const queries = useQueryClient();

  const keep = async (edit: FaultEdit): Promise<void> => {
    wanted.current = edit;
    if (busy.current || !edit.noticed.trim()) {
      return;
    }
    busy.current = true;
    setIsKeeping(true);
    setError(null);
    try {
      for (let next = wanted.current as FaultEdit | null; next; next = wanted.current) {
        wanted.current = null;
        const now = await ask(editFault({ path: { id: fault.id }, body: { ...next, version: version.current } }));
        version.current = now.version;
        setKept(next);
        queries.setQueryData(['fault', fault.id], now);
      }
      void queries.invalidateQueries({ queryKey: ['machine'] });
      void queries.invalidateQueries({ queryKey: ['edits', fault.id] });
    } catch (failure) {
      setError(failure instanceof Error ? failure : new Error(String(failure)));
    } finally {
      busy.current = false;
      setIsKeeping(false);
    }
  };

  return {
    kept,
    isKeeping,
    error,
    keep: (edit: FaultEdit) => void keep(edit),
    /** Writes over what somebody else wrote, after both texts were seen. */
    keepOver: (edit: FaultEdit, over: number) => {
      version.current = over;
      void keep(edit);
    },
    /** Takes over what somebody else wrote. */
    settle: (theirs: FaultEdit) => {
      version.current = theirs.version;
      setKept(theirs);
      setError(null);
    },
  };
}
