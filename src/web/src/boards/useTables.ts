import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useEffectEvent, useRef, useState } from 'react';
import type { LayoutChanged, LayoutEdit, LayoutRow, LayoutTables } from '../api/generated';
import { newId } from '../api/newId';
import { leaveOut, onTaken, type Parcel, post, useOutbox } from '../outbox/outbox';
import { draftOf, keepDraft, useWritten } from '../ui/useDraft';

/** What was done at once is undone at once. */
type Batch = LayoutEdit[];

const none: { edits: Batch } = { edits: [] };

/** A row among those of all three tables. */
export const keyOfRow = (of: Pick<LayoutEdit, 'row' | 'parent' | 'id'>): string => `${of.row}:${of.parent}:${of.id}`;

export const keyOf = (edit: LayoutEdit): string => `${keyOfRow(edit)}/${edit.column ?? ''}`;

function reverse(edit: LayoutEdit): LayoutEdit {
  return edit.kind === 'set'
    ? { ...edit, before: edit.text, text: edit.before }
    : { ...edit, kind: edit.kind === 'add' ? 'remove' : 'add' }; // With the cells it held or got.
}

/** Changes made on this page, from the key that made them until the tables that hold them are shown. */
interface Sent {
  id: string;
  edits: Batch;
  /** The tables that were shown when the ledger answered: any others hold the changes. */
  answeredOver?: LayoutTables;
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

/** What was refused of the tables of a board type stands in this draft until it is mended. */
const draftOfTables = (boardTypeId: string) => `tables/${boardTypeId}`;
const pathOf = (boardTypeId: string) => `/api/board-types/${encodeURIComponent(boardTypeId)}/tables`;
const editsOf = (parcel: Parcel) => parcel.json as Batch;

/** The tables that are open on this page, by their paths. */
const opened = new Set<string>();

onTaken((parcel, answer) => {
  const [, id] = /^\/api\/board-types\/([^/]+)\/tables$/.exec(parcel.path) ?? [];
  if (id !== undefined && !opened.has(parcel.path) && (answer as LayoutChanged).problems.length > 0) {
    // Nobody was there to see that cells were refused: they stand marked when the tables are opened.
    const draft = draftOfTables(decodeURIComponent(id));
    const { edits } = JSON.parse(draftOf(draft) ?? '{"edits":[]}') as { edits: Batch };
    keepDraft(draft, JSON.stringify({ edits: merged([...edits, ...editsOf(parcel)]) }));
  }
});

/**
 * The tables of a board type being edited: each change goes as it is made, all its cells or none, through what waits on this
 * device, in its order and with the page closed too. What is refused stays in its cells, marked, and goes with the next change.
 */
export function useTables(tables: LayoutTables) {
  const { boardTypeId } = tables;
  const queries = useQueryClient();
  const [{ edits: refused }, setRefused] = useWritten<{ edits: Batch }>(draftOfTables(boardTypeId), none);
  const [problems, setProblems] = useState<ReadonlyMap<string, string>>(new Map());
  const outbox = useOutbox();
  const mine = outbox.filter((parcel) => parcel.path === pathOf(boardTypeId));
  const onTheWay = mine.filter((parcel) => !parcel.refused);
  const aside = mine.filter((parcel) => parcel.refused);
  // The parcel is made after the key that made the change, and gone before its answer is drawn: what was typed stands in its
  // cell throughout, or a key pressed meanwhile would fill down, copy or move from a text that is no longer there.
  const [sent, setSent] = useState<Sent[]>([]);
  const isOpen = ({ answeredOver }: Sent) => answeredOver === undefined || answeredOver === tables;
  const own = sent.filter(isOpen);
  const done = useRef<Batch[]>([]);
  const undone = useRef<Batch[]>([]);
  const [steps, setSteps] = useState({ undo: 0, redo: 0 });

  const left = useRef<Batch>(refused);
  const keepRefused = (edits: Batch) => {
    left.current = edits;
    setRefused({ edits });
  };
  const backIntoCells = (edits: Batch) => keepRefused(merged([...edits, ...left.current]));

  const came = useEffectEvent(({ id, json }: Parcel, { tables: after, problems: against }: LayoutChanged) => {
    const edits = json as Batch;
    const queryKey = ['tables', boardTypeId];
    const isAsWas = queries.setQueryData<LayoutTables>(queryKey, after) === tables;
    if (queries.isFetching({ queryKey }) > 0) {
      // Asked for before this was written: it is asked for anew.
      void queries.invalidateQueries({ queryKey });
    }
    setSent((all) =>
      against.length > 0 || isAsWas
        ? all.filter((s) => s.id !== id)
        : all.map((s) => (s.id === id ? { ...s, answeredOver: tables } : s)),
    );
    const at = (edit: LayoutEdit | undefined) => (edit ? keyOf(edit) : '');
    setProblems(new Map(against.map((p) => [at(edits[p.edit]), p.message])));
    if (against.length > 0) {
      backIntoCells(edits);
      return;
    }
    for (const key of ['map', 'machine', 'edits']) {
      void queries.invalidateQueries({ queryKey: [key] });
    }
  });
  useEffect(() => {
    const path = pathOf(boardTypeId);
    opened.add(path);
    const stop = onTaken((parcel, answer) => {
      if (parcel.path === path) {
        came(parcel, answer as LayoutChanged);
      }
    });
    return () => {
      opened.delete(path);
      stop();
    };
  }, [boardTypeId]);

  /** Whether it was taken, or waits: what waits is as good as done here. */
  const send = async (edits: Batch): Promise<boolean> => {
    const words = 'changes in the tables of a board';
    const id = newId();
    setSent((all) => [...all.filter(isOpen), { id, edits }]);
    const delivery = await post({ id, path: pathOf(boardTypeId), words, machineId: '', json: edits });
    return delivery.kind === 'taken'
      ? (delivery.answer as LayoutChanged).problems.length === 0
      : delivery.kind === 'waiting';
  };

  const count = () => setSteps({ undo: done.current.length, redo: undone.current.length });

  /** What was refused, from before this page was opened too, off the queue: it stands in its cells. */
  const takeAside = (): Batch => {
    for (const { id } of aside) {
      void leaveOut(id);
    }
    setSent((all) => all.filter((s) => !aside.some(({ id }) => id === s.id)));
    return aside.flatMap(editsOf);
  };

  const change = async (edits: Batch) => {
    const all = merged([...takeAside(), ...left.current, ...edits]);
    setProblems(new Map());
    if (all.length > 0) {
      // The parcel holds them from now on; a step can be taken back before the ledger has answered.
      const sending = send(all);
      keepRefused([]);
      done.current.push(all);
      undone.current = [];
      count();
      if (!(await sending)) {
        done.current = done.current.filter((batch) => batch !== all);
      }
    } else {
      keepRefused([]);
    }
    count();
  };

  const begin = useRef(() => change([]));
  useEffect(() => {
    if (left.current.length > 0) {
      void begin.current();
    }
  }, []);

  const step = async (from: { current: Batch[] }, to: { current: Batch[] }) => {
    if (left.current.length > 0 || aside.length > 0) {
      // What was refused is the last thing done; taking it back costs nothing.
      takeAside();
      keepRefused([]);
      setProblems(new Map());
      return;
    }
    const batch = from.current.pop();
    if (batch) {
      const back = batch.map(reverse).reverse();
      to.current.push(back);
      count();
      if (!(await send(back))) {
        to.current = to.current.filter((b) => b !== back);
        from.current.push(batch);
        count();
      }
    }
  };

  const cells = [
    ...mine.filter((parcel) => !own.some(({ id }) => id === parcel.id)).flatMap(editsOf),
    ...own.flatMap(({ edits }) => edits),
    ...refused,
  ];
  const isWaiting = ({ id, answeredOver }: Sent) =>
    answeredOver === undefined && !aside.some((parcel) => parcel.id === id);
  const typed = new Map<string, LayoutRow['cells']>();
  for (const { kind, column, text, ...row } of cells) {
    if (kind === 'set') {
      typed.set(keyOfRow(row), { ...typed.get(keyOfRow(row)), [column ?? '']: text });
    }
  }
  return {
    /** The rows with the texts that stand in their cells now: refused, or on their way to the ledger and back, too. */
    rows: tables.rows.map((row) => ({
      ...row,
      cells: { ...row.cells, ...typed.get(keyOfRow({ ...row, row: row.kind })) },
    })),
    isRefused: refused.length + aside.length > 0 && onTheWay.length === 0,
    problems,
    error: aside[0] ? new Error(aside[0].refused) : null,
    isKeeping: onTheWay.length > 0 || own.some(isWaiting),
    steps,
    change: (edits: Batch) => void change(edits),
    undo: () => void step(done, undone),
    redo: () => void step(undone, done),
  };
}
