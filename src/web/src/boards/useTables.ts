import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { changeTables, type LayoutEdit, type LayoutTables } from '../api/generated';
import { ask } from '../api/ledger';
import { useWritten } from '../ui/useDraft';

/** What was done at once is undone at once. */
type Batch = LayoutEdit[];

const none: { edits: Batch } = { edits: [] };

export const keyOf = (edit: LayoutEdit): string => `${edit.row}:${edit.parent}:${edit.id}/${edit.column ?? ''}`;

function reverse(edit: LayoutEdit): LayoutEdit {
  return edit.kind === 'set'
    ? { ...edit, before: edit.text, text: edit.before }
    : { ...edit, kind: edit.kind === 'add' ? 'remove' : 'add' }; // With the cells it held or got.
}

/** Cells whose last text is the one they began with have not changed. */
const merged = (edits: Batch): Batch => {
  const cells = new Map<string, LayoutEdit>();
  for (const edit of edits) {
    const was = cells.get(keyOf(edit));
    cells.set(keyOf(edit), was && edit.kind === 'set' ? { ...edit, before: was.before } : edit);
  }
  return [...cells.values()].filter((e) => e.kind !== 'set' || e.before !== e.text);
};

/**
 * The tables of a board type being edited: each change is sent as it is made, all its cells or none. What is refused
 * stays in its cells, marked, and goes with the next change.
 */
export function useTables(boardTypeId: string) {
  const queries = useQueryClient();
  // What was typed and the ledger has not, over a reload too; it goes with the next change.
  const [{ edits: refused }, setRefused] = useWritten<{ edits: Batch }>(`tables/${boardTypeId}`, none);
  const [onTheWay, setOnTheWay] = useState<Batch>([]);
  const [problems, setProblems] = useState<ReadonlyMap<string, string>>(new Map());
  const [error, setError] = useState<Error | null>(null);
  const [isKeeping, setIsKeeping] = useState(false);
  const done = useRef<Batch[]>([]);
  const undone = useRef<Batch[]>([]);
  const [steps, setSteps] = useState({ undo: 0, redo: 0 });
  const last = useRef<Promise<unknown>>(Promise.resolve());

  const send = async (edits: Batch): Promise<boolean> => {
    setIsKeeping(true);
    try {
      const answer = await ask(changeTables({ path: { boardTypeId }, body: edits }));
      queries.setQueryData(['tables', boardTypeId], answer.tables satisfies LayoutTables);
      const at = (edit: LayoutEdit | undefined) => (edit ? keyOf(edit) : '');
      setProblems(new Map(answer.problems.map((p) => [at(edits[p.edit]), p.message])));
      setError(null);
      if (answer.problems.length === 0) {
        void queries.invalidateQueries({ queryKey: ['map'] });
        void queries.invalidateQueries({ queryKey: ['machine'] });
        void queries.invalidateQueries({ queryKey: ['edits'] });
      }
      return answer.problems.length === 0;
    } catch (failure) {
      setError(failure as Error);
      return false;
    } finally {
      setIsKeeping(false);
    }
  };

  /** One after the other, since each is made from what the one before left. */
  const inTurn = <T>(work: () => Promise<T>): Promise<T> => {
    const next = last.current.then(work);
    last.current = next.catch(() => undefined);
    return next;
  };

  const count = () => setSteps({ undo: done.current.length, redo: undone.current.length });

  const left = useRef<Batch>(refused);
  const keepRefused = (edits: Batch) => {
    left.current = edits;
    setRefused({ edits });
  };

  const change = (edits: Batch) => {
    setOnTheWay((was) => [...was, ...edits]);
    return inTurn(async () => {
      const all = merged([...left.current, ...edits]);
      // On the device before it is on its way.
      keepRefused(all);
      if (all.length === 0) {
        keepRefused([]);
        setProblems(new Map());
      } else if (await send(all)) {
        keepRefused([]);
        done.current.push(all);
        undone.current = [];
      }
      setOnTheWay((was) => was.filter((e) => !edits.includes(e)));
      count();
    });
  };

  const begin = useRef(() => change([]));
  useEffect(() => {
    if (left.current.length > 0) {
      void begin.current();
    }
  }, []);

  const step = (from: { current: Batch[] }, to: { current: Batch[] }) =>
    inTurn(async () => {
      if (left.current.length > 0) {
        // What was refused is the last thing done; taking it back costs nothing.
        keepRefused([]);
        setProblems(new Map());
        return;
      }
      const batch = from.current.pop();
      if (batch) {
        const back = batch.map(reverse).reverse();
        if (await send(back)) {
          to.current.push(back);
        } else {
          from.current.push(batch);
        }
        count();
      }
    });

  return {
    /** Texts that the ledger does not have: refused, or on their way to it. */
    typed: new Map([...refused, ...onTheWay].filter((e) => e.kind === 'set').map((e) => [keyOf(e), e.text])),
    isRefused: refused.length > 0 && onTheWay.length === 0,
    problems,
    error,
    isKeeping,
    steps,
    change: (edits: Batch) => void change(edits),
    undo: () => void step(done, undone),
    redo: () => void step(undone, done),
  };
}
