import { useEffect, useRef, useState } from 'react';
import { Refusal, Unreachable } from '../api/ledger';
import { draftOf, keepDraft } from './useDraft';

interface Versioned {
  version: number;
}

/** While the ledger is out of reach, what is written is sent again after this long, in ms. */
const again = 3000;

/** What was written, whatever version it was written over. */
export const textOf = (edit: Versioned): string => JSON.stringify({ ...edit, version: 0 });

/**
 * What stood in a form when its page was left or loaded anew; undefined where all of it was kept, or where the ledger
 * has the same by now.
 */
export function writtenBefore<Edit extends Versioned>(name: string, first: Edit): Edit | undefined {
  try {
    const before = JSON.parse(draftOf(`form/${name}`) ?? 'null') as Partial<Edit> | null;
    const edit = before && { ...first, ...before };
    return edit && textOf(edit) !== textOf(first) ? edit : undefined;
  } catch {
    return undefined;
  }
}

/** Whether a clash is none: what stands in the ledger is what was sent, and only its answer was lost. */
function isOwn(failure: Refusal, sent: Versioned): boolean {
  const { theirs } = failure.problem;
  const mine = sent as unknown as Record<string, unknown>;
  return (
    theirs !== undefined &&
    Object.keys(theirs).some((name) => name !== 'version') &&
    Object.entries(theirs).every(
      ([name, value]) => name === 'version' || JSON.stringify(mine[name]) === JSON.stringify(value),
    )
  );
}

/**
 * Keeps a record as it is written, one request after the other, each made from the version before it. What is
 * written while one is on its way goes with the next. Until it is kept it stands on this device too, and is there again
 * after a reload or another page.
 *
 * @param name What is written and of which thing, such as `fault/17`.
 */
export function useKeeping<Edit extends Versioned>(
  name: string,
  first: Edit,
  send: (edit: Edit) => Promise<Versioned>,
  isReady: (edit: Edit) => boolean = () => true,
) {
  const [before] = useState(() => writtenBefore(name, first));
  const [edit, setEdit] = useState(before ?? first);
  const [kept, setKept] = useState(first);
  const [isKeeping, setIsKeeping] = useState(false);
  const [error, setError] = useState<Error | null>(null);
  const version = useRef(edit.version);
  const wanted = useRef<Edit | null>(null);
  const busy = useRef(false);
  const last = useRef({ edit, kept: first });
  // What could not be sent, with what was written then: it may ask for more than was written, such as to close a fault.
  const unsent = useRef<{ asked: Edit; written: Edit } | null>(null);

  const onDevice = () => {
    const { edit: now, kept: there } = last.current;
    keepDraft(
      `form/${name}`,
      textOf(now) === textOf(there) ? '' : JSON.stringify({ ...now, version: version.current }),
    );
  };

  const write = (next: Edit) => {
    last.current.edit = next;
    setEdit(next);
    onDevice();
  };

  const isNowKept = (next: Edit, as: number) => {
    version.current = as;
    last.current.kept = next;
    setKept(next);
    onDevice();
  };

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
        unsent.current = { asked: next, written: last.current.edit };
        const sent = { ...next, version: version.current };
        try {
          isNowKept(next, (await send(sent)).version);
        } catch (failure) {
          if (!(failure instanceof Refusal && isOwn(failure, sent))) {
            throw failure;
          }
          isNowKept(next, failure.problem.version ?? version.current);
        }
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

  const keepNow = useRef(keep);
  useEffect(() => {
    keepNow.current = keep;
  });
  useEffect(() => {
    if (before) {
      void keepNow.current(before);
    }
  }, [before]);
  useEffect(() => {
    if (!(error instanceof Unreachable)) {
      return;
    }
    const timer = setTimeout(() => {
      const { edit: now } = last.current;
      const before = unsent.current;
      void keepNow.current(before && textOf(before.written) === textOf(now) ? before.asked : now);
    }, again);
    return () => clearTimeout(timer);
  }, [error]);

  return {
    /** As it is written now. */
    edit,
    write,
    kept,
    isChanged: textOf(edit) !== textOf(kept),
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
      setError(null);
      isNowKept(theirs, theirs.version);
      write(theirs);
    },
  };
}
