import { useEffect, useRef, useState } from 'react';
import type { Client } from '../api/generated/client';
import { Refusal, Unreachable } from '../api/ledger';
import { textOf, throughQueue } from '../outbox/forms';
import { isOwn } from '../outbox/outbox';
import { draftOf, keepDraft } from './useDraft';

interface Versioned {
  version: number;
}

/** What an edit came to: its version, and how it stands in the ledger where that writes it in its own way. */
export interface Came<Edit> extends Versioned {
  as?: Edit;
}

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

/** Of what was asked for a part was refused; the rest is kept. */
export class KeptInPart extends Error {
  constructor(
    readonly kept: Versioned,
    readonly refusal: Refusal,
  ) {
    super(refusal.message);
  }
}

/**
 * Keeps a record as it is written, one request after the other, each made from the version before it. What is
 * written while one is on its way goes with the next. Each goes through what waits on this device, in its order, and is
 * sent from there with its page closed too. Until it is kept it stands on this device, and is there again after a reload
 * or another page.
 *
 * @param name What is written and of which thing, such as `fault/17`.
 * @param send Asks for an edit by the client it is given, which is the way through what waits; it is told what is kept, and
 *   fails with {@link KeptInPart} where only some of it was taken.
 */
export function useKeeping<Edit extends Versioned>(
  name: string,
  first: Edit,
  send: (edit: Edit, client: Client, kept: Edit) => Promise<Came<Edit>>,
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
  const isWaiting = useRef(false);
  const runs = useRef(0);
  const last = useRef({ edit, kept: first });
  const isOpen = useRef(true);
  useEffect(() => {
    isOpen.current = true;
    return () => void (isOpen.current = false);
  }, []);

  const onDevice = () => {
    const { edit: now, kept: there } = last.current;
    if (!isOpen.current) {
      // Whoever opened the form since writes the draft.
      return;
    }
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
    // What waits for the ledger gives its place to what is written now; what is on its way is let through first.
    if ((busy.current && !isWaiting.current) || !isReady(edit)) {
      return false;
    }
    busy.current = true;
    isWaiting.current = false;
    const run = ++runs.current;
    const isLast = () => run === runs.current;
    setIsKeeping(true);
    setError(null);
    try {
      for (let next = wanted.current as Edit | null; next && isLast(); next = wanted.current) {
        wanted.current = null;
        const queue = throughQueue(
          `form/${name}`,
          textOf(last.current.edit),
          () => {
            isWaiting.current = isLast();
            setError(new Unreachable());
          },
          () => isOpen.current,
        );
        const sent = { ...next, version: version.current };
        try {
          const came = await send(sent, queue, last.current.kept);
          isNowKept(came.as ?? next, came.version);
          if (came.as && textOf(last.current.edit) === textOf(next)) {
            write(came.as);
          }
        } catch (failure) {
          if (!(failure instanceof Refusal && isOwn(failure.problem, sent))) {
            throw failure;
          }
          isNowKept(next, failure.problem.version ?? version.current);
        }
        setError(null);
      }
      return isLast();
    } catch (failure) {
      if (failure instanceof KeptInPart) {
        isNowKept(failure.kept as Edit, failure.kept.version);
      }
      if (isLast()) {
        const why = failure instanceof KeptInPart ? failure.refusal : failure;
        setError(why instanceof Error ? why : new Error(String(why)));
      }
      return false;
    } finally {
      if (isLast()) {
        busy.current = false;
        isWaiting.current = false;
        setIsKeeping(false);
      }
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
