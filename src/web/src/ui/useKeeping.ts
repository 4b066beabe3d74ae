import { useRef, useState } from 'react';
import { Refusal } from '../api/ledger';

interface Versioned {
  version: number;
}

/**
 * Keeps a record as it is written, one request after the other, each made from the version before it. What is
 * written while one is on its way goes with the next.
 */
export function useKeeping<Edit extends Versioned>(
  first: Edit,
  send: (edit: Edit) => Promise<Versioned>,
  isReady: (edit: Edit) => boolean = () => true,
) {
  const [kept, setKept] = useState(first);
  const [isKeeping, setIsKeeping] = useState(false);
  const [error, setError] = useState<Error | null>(null);
  const version = useRef(first.version);
  const wanted = useRef<Edit | null>(null);
  const busy = useRef(false);

  const keep = async (edit: Edit): Promise<boolean> => {
    wanted.current = edit;
    if (busy.current || !isReady(edit)) {
      return false;
    }
    busy.current = true;
    setIsKeeping(true);
    setError(null);
    try {
      for (let next = wanted.current as Edit | null; next; next = wanted.current) {
        wanted.current = null;
        const now = await send({ ...next, version: version.current });
        version.current = now.version;
        setKept(next);
      }
      return true;
    } catch (failure) {
      setError(failure instanceof Error ? failure : new Error(String(failure)));
      return false;
    } finally {
      busy.current = false;
      setIsKeeping(false);
    }
  };

  return {
    kept,
    isKeeping,
    error,
    /** Somebody else wrote in between; nothing more is sent until one text is chosen. */
    isClash: error instanceof Refusal && error.problem.theirs !== undefined,
    keep,
    /** Writes over what somebody else wrote, after both texts were seen. */
    keepOver: (edit: Edit, over: number) => {
      version.current = over;
      return keep(edit);
    },
    /** Takes over what stands in the ledger: somebody else's text, or what another request made. */
    settle: (theirs: Edit) => {
      version.current = theirs.version;
      setKept(theirs);
      setError(null);
    },
  };
}
