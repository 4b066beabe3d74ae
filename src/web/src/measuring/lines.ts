import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import { useSyncExternalStore } from 'react';
import { addLine, type NewLine, type RoundView } from '../api/generated';
import { ask, Refusal } from '../api/ledger';

/** A line on this device that the server has not acknowledged. */
export interface WaitingLine {
  roundId: string;
  line: NewLine;
  /** Why the server would not take it; it waits here until it is typed again. */
  refused?: string;
}

interface Device extends DBSchema {
  lines: { key: string; value: WaitingLine };
  rounds: { key: string; value: RoundView };
}

export type Outcome = { kind: 'stored'; view: RoundView } | { kind: 'refused'; refusal: Refusal } | { kind: 'waiting' };

const retryAfter = 1500;
const device: Promise<IDBPDatabase<Device>> = openDB<Device>('rusty-ledger', 1, {
  upgrade(db) {
    db.createObjectStore('lines');
    db.createObjectStore('rounds');
  },
});

let waiting: readonly WaitingLine[] = [];
let sending = false;
let timer: ReturnType<typeof setTimeout> | undefined;
const listeners = new Set<() => void>();
const arrivals = new Set<(view: RoundView) => void>();
const watchers = new Map<string, (outcome: Outcome) => void>();

function say(next: readonly WaitingLine[]) {
  waiting = next;
  listeners.forEach((tell) => tell());
}

const byOrder = (a: WaitingLine, b: WaitingLine) => a.line.order - b.line.order;

const loaded = device.then(async (db) => {
  say((await db.getAll('lines')).sort(byOrder));
  void send();
});
window.addEventListener('online', () => void send());

/** Writes a line to the device, then sends it; resolves when the server has answered or cannot be reached. */
export async function store(roundId: string, line: NewLine): Promise<Outcome> {
  await loaded;
  const entry: WaitingLine = { roundId, line };
  await (await device).put('lines', entry, line.id);
  const answered = new Promise<Outcome>((resolve) => watchers.set(line.id, resolve));
  say([...waiting, entry].sort(byOrder));
  void send();
  return answered;
}

/** Takes a line off the device: it was refused and is being typed again. */
export async function discard(id: string): Promise<void> {
  await (await device).delete('lines', id);
  say(waiting.filter((w) => w.line.id !== id));
}

async function send(): Promise<void> {
  if (sending) {
    return;
  }
  sending = true;
  clearTimeout(timer);
  try {
    for (let next = waiting.find((w) => !w.refused); next; next = waiting.find((w) => !w.refused)) {
      if (!(await sendOne(next))) {
        watchers.forEach((tell) => tell({ kind: 'waiting' }));
        watchers.clear();
        timer = setTimeout(() => void send(), retryAfter);
        return;
      }
    }
  } finally {
    sending = false;
  }
}

/** Whether to go on with the next; the same id goes again until the server has acknowledged it. */
async function sendOne(entry: WaitingLine): Promise<boolean> {
  const { roundId, line } = entry;
  const tell = watchers.get(line.id);
  try {
    const view = await ask(addLine({ path: { id: roundId }, body: line, signal: AbortSignal.timeout(10_000) }));
    watchers.delete(line.id);
    await discard(line.id);
    await remember(view);
    arrivals.forEach((arrive) => arrive(view));
    tell?.({ kind: 'stored', view });
    return true;
  } catch (error) {
    if (!(error instanceof Refusal) || error.status >= 500) {
      return false;
    }
    if (error.problem.asksLive && !tell) {
      // It was typed while the ledger was gone and nobody is here to be asked: the safe answer until somebody says otherwise.
      const live: WaitingLine = { ...entry, line: { ...line, alive: 'live' } };
      await (await device).put('lines', live, line.id);
      say(waiting.map((w) => (w.line.id === line.id ? live : w)));
      return true;
    }
    watchers.delete(line.id);
    if (line.kind === 'retracted' || waiting.some((w) => w.line.target === line.id)) {
      // A refused text that was taken back meanwhile has nobody left to type it again.
      await discard(line.id);
      return true;
    }
    const refused = { ...entry, refused: error.message };
    await (await device).put('lines', refused, line.id);
    say(waiting.map((w) => (w.line.id === line.id ? refused : w)));
    tell?.({ kind: 'refused', refusal: error });
    return true;
  }
}

/** The round as it last came, so that the page opens with the server gone. */
export async function remember(view: RoundView): Promise<void> {
  await (await device).put('rounds', view, view.id);
}

export async function recall(roundId: string): Promise<RoundView | undefined> {
  return (await device).get('rounds', roundId);
}

/** Tells of rounds that came back with an acknowledged line. */
export function onArrival(arrive: (view: RoundView) => void): () => void {
  arrivals.add(arrive);
  return () => arrivals.delete(arrive);
}

/** The lines of all rounds that wait on this device, in the order they were made. */
export function useWaitingLines(): readonly WaitingLine[] {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => waiting,
  );
}

let lastOrder = 0;

/** Rises with each line, also across a reload and between two lines of one millisecond. */
export function nextOrder(): number {
  lastOrder = Math.max(Date.now(), lastOrder + 1, ...waiting.map((w) => w.line.order + 1));
  return lastOrder;
}
