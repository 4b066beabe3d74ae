import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import { useMemo } from 'react';
import type { NewLine, RoundChange, RoundView } from '../api/generated';
import { Refusal } from '../api/ledger';
import { leaveOut, onRefused, onTaken, type Parcel, post, useOutbox, waitingParcels } from '../outbox/outbox';

/** A line on this device that the server has not acknowledged. */
export interface WaitingLine {
  roundId: string;
  line: NewLine;
  /** Why the server would not take it; it waits here until it is typed again. */
  refused?: string;
}

interface Device extends DBSchema {
  rounds: { key: string; value: RoundView };
}

export type Outcome =
  { kind: 'stored'; change: RoundChange } | { kind: 'refused'; refusal: Refusal } | { kind: 'waiting' };

const device: Promise<IDBPDatabase<Device>> = openDB<Device>('rusty-ledger', 3, {
  upgrade(db) {
    // A round as an older page remembered it lacks what this page shows; what waits to be sent lies elsewhere.
    if (db.objectStoreNames.contains('rounds')) {
      db.deleteObjectStore('rounds');
    }
    db.createObjectStore('rounds');
  },
});

const asLine = (parcel: Parcel): WaitingLine | undefined =>
  parcel.roundId === undefined
    ? undefined
    : {
        roundId: parcel.roundId,
        line: parcel.json as NewLine,
        ...(parcel.refused === undefined ? {} : { refused: parcel.refused }),
      };

const linesOf = (parcels: readonly Parcel[]): WaitingLine[] =>
  parcels.flatMap((p) => asLine(p) ?? []).sort((a, b) => a.line.order - b.line.order);

onRefused((parcel, problem, isWatched) => {
  const line = asLine(parcel)?.line;
  if (!line) {
    return undefined;
  }
  if (problem.asksLive && !isWatched) {
    // It was typed while the ledger was gone and nobody is here to be asked: the safe answer until somebody says otherwise.
    return { ...parcel, json: { ...line, alive: 'live' } satisfies NewLine };
  }
  // A refused text that was taken back meanwhile has nobody left to type it again.
  return line.kind === 'retracted' || linesOf(waitingParcels()).some((w) => w.line.target === line.id)
    ? 'drop'
    : undefined;
});

/** Writes a line to the device, then sends it; resolves when the server has answered or cannot be reached. */
export async function store(roundId: string, line: NewLine): Promise<Outcome> {
  const delivery = await post({
    id: line.id,
    path: `/api/rounds/${encodeURIComponent(roundId)}/lines`,
    words: wordsOf(line),
    machineId: '',
    roundId,
    json: line,
  });
  switch (delivery.kind) {
    case 'taken':
      return { kind: 'stored', change: delivery.answer as RoundChange };
    case 'refused':
      return { kind: 'refused', refusal: new Refusal(delivery.problem.status ?? 422, delivery.problem) };
    default:
      return { kind: 'waiting' };
  }
}

const wordsOf = (line: NewLine) =>
  [
    { taken: 'reading', skipped: 'passed over', retracted: 'taken back', leadZero: 'leads by themselves' }[line.kind],
    [line.red?.printed, line.black?.printed].filter(Boolean).join(' to '),
    line.typed || line.reason,
  ]
    .filter(Boolean)
    .join(', ');

/** Takes a line off the device: it was refused and is being typed again. */
export const discard = (id: string): Promise<void> => leaveOut(id);

/** The round as it last came, so that the page opens with the server gone. */
export async function remember(view: RoundView): Promise<void> {
  await (await device).put('rounds', view, view.id);
}

export async function recall(roundId: string): Promise<RoundView | undefined> {
  return (await device).get('rounds', roundId);
}

/** A round with what a line changed in it. */
export function withChange(view: RoundView, change: RoundChange): RoundView {
  const changed = new Map(change.rows.map((row) => [row.key, row]));
  return { ...view, ...change, rows: view.rows.map((row) => changed.get(row.key) ?? row) };
}

/** Tells what an acknowledged line changed; the device's own memory of the round follows by itself. */
export const onArrival = (arrive: (change: RoundChange) => void): (() => void) =>
  onTaken((parcel, answer) => {
    if (parcel.roundId !== undefined) {
      const change = answer as RoundChange;
      void recall(change.id).then((known) => known && remember(withChange(known, change)));
      arrive(change);
    }
  });

/** The lines of all rounds that wait on this device, in the order they were made. */
export function useWaitingLines(): readonly WaitingLine[] {
  const parcels = useOutbox();
  return useMemo(() => linesOf(parcels), [parcels]);
}

let lastOrder = 0;

/** Rises with each line, also across a reload and between two lines of one millisecond. */
export function nextOrder(): number {
  lastOrder = Math.max(Date.now(), lastOrder + 1, ...linesOf(waitingParcels()).map((w) => w.line.order + 1));
  return lastOrder;
}
