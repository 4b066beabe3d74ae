import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import { useSyncExternalStore } from 'react';
import { knownLedger, type ProblemDetails } from '../api/ledger';

/** Something made on this device that the ledger has not acknowledged; the same id goes until it has. */
export interface Parcel {
  id: string;
  /** Rises with each; parcels go in this order, since a later one may rest on an earlier. */
  order: number;
  path: string;
  /** What it is, in words, for the list of what waits. */
  words: string;
  /** The machine it belongs to, by id; empty where its round tells. */
  machineId: string;
  /** The photograph it belongs to, where it does. */
  photographId?: string;
  /** The round it belongs to, where it is a line of one. */
  roundId?: string;
  json?: unknown;
  picture?: Blob;
  /** The ledger it was made for, by its id; missing where none had answered yet. */
  ledger?: string;
  /** How often the ledger itself failed on it. */
  failures?: number;
  /** Why the ledger would not take it; it stands aside until it is mended, sent again or thrown away. */
  refused?: string;
}

export type Delivery =
  { kind: 'taken'; answer: unknown } | { kind: 'refused'; why: string; problem: ProblemDetails } | { kind: 'waiting' };

/** What becomes of a refused parcel: another in its place, nothing at all, or it stands aside with its reason. */
export type Mending = Parcel | 'drop' | undefined;

interface Device extends DBSchema {
  parcels: { key: string; value: Parcel };
}

const retryAfter = 1500;
const longestText = 20_000;
const longestPicture = 120_000;
/** The ledger failed on one parcel so often: it is not held against those behind it. */
const mostFailures = 3;

const device: Promise<IDBPDatabase<Device>> = openDB<Device>('rusty-ledger-outbox', 1, {
  upgrade: (db) => void db.createObjectStore('parcels'),
});

let parcels: readonly Parcel[] = [];
/** Why nothing goes at the moment, where it is not simply that the ledger cannot be reached. */
let stranger = '';
let sending = false;
let timer: ReturnType<typeof setTimeout> | undefined;
let lastOrder = 0;
const listeners = new Set<() => void>();
const arrivals = new Set<(parcel: Parcel, answer: unknown) => void>();
const menders = new Set<(parcel: Parcel, problem: ProblemDetails, isWatched: boolean) => Mending>();
const watchers = new Map<string, (delivery: Delivery) => void>();

function say(next: readonly Parcel[]) {
  parcels = next;
  listeners.forEach((tell) => tell());
}

const byOrder = (a: Parcel, b: Parcel) => a.order - b.order;

const loaded = device.then(async (db) => {
  say((await db.getAll('parcels')).sort(byOrder));
  void send();
});
window.addEventListener('online', () => void send());

/** Writes a parcel to the device, then sends it; resolves when the ledger has answered or cannot be reached. */
export async function post(parcel: Omit<Parcel, 'order'>): Promise<Delivery> {
  await loaded;
  lastOrder = Math.max(Date.now(), lastOrder + 1, ...parcels.map((p) => p.order + 1));
  const entry: Parcel = { ...parcel, order: lastOrder };
  const ledger = knownLedger();
  if (ledger) {
    entry.ledger = ledger;
  }
  const answered = new Promise<Delivery>((resolve) => watchers.set(entry.id, resolve));
  // In sight before it is on the disk, so that two made at once keep their order.
  say([...parcels, entry]);
  await (await device).put('parcels', entry, entry.id);
  void send();
  return answered;
}

/** Takes a parcel off the device; what it held is given up. */
export async function leaveOut(id: string): Promise<void> {
  await (await device).delete('parcels', id);
  say(parcels.filter((p) => p.id !== id));
}

/** Sends a refused parcel once more, mended where something of it was changed. */
export async function sendAgain(id: string, json?: unknown): Promise<void> {
  const parcel = parcels.find((p) => p.id === id);
  if (parcel) {
    const again: Parcel = json === undefined ? { ...parcel } : { ...parcel, json };
    delete again.refused;
    delete again.failures;
    await put(again);
    void send();
  }
}

async function put(parcel: Parcel): Promise<void> {
  await (await device).put('parcels', parcel, parcel.id);
  say(parcels.map((p) => (p.id === parcel.id ? parcel : p)));
}

async function send(): Promise<void> {
  await loaded;
  if (sending) {
    return;
  }
  sending = true;
  clearTimeout(timer);
  try {
    for (let next = parcels.find((p) => !p.refused); next; next = parcels.find((p) => !p.refused)) {
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

/** Whether to go on with the next. Only an answer of this ledger that names the parcel takes it off the device. */
async function sendOne(parcel: Parcel): Promise<boolean> {
  const answer = await fetch(parcel.path, {
    method: 'POST',
    headers: {
      'X-Person': localStorage.getItem('person-id') ?? '',
      'X-Parcel': parcel.id,
      ...(parcel.ledger ? { 'X-Ledger': parcel.ledger } : {}),
      'content-type': parcel.picture ? parcel.picture.type || 'application/octet-stream' : 'application/json',
    },
    body: parcel.picture ?? JSON.stringify(parcel.json),
    signal: AbortSignal.timeout(parcel.picture ? longestPicture : longestText),
  }).catch(() => null);
  if (!answer) {
    heard('');
    return false;
  }
  const ledger = answer.headers.get('X-Ledger');
  if (answer.headers.get('X-Parcel') !== parcel.id || !ledger) {
    heard('Something else answers in the ledger’s place, such as a network’s log-in page.');
    return false;
  }
  if (answer.status === 421 || (parcel.ledger && ledger !== parcel.ledger)) {
    heard('Another ledger answers here than the one this was made for.');
    return false;
  }
  const body = (await answer.json().catch(() => null)) as unknown;
  if (answer.ok && body === null) {
    // Cut off on the way: it goes again under the same id.
    return false;
  }
  heard('');
  if (answer.ok) {
    const tell = watchers.get(parcel.id);
    watchers.delete(parcel.id);
    await leaveOut(parcel.id);
    arrivals.forEach((arrive) => arrive(parcel, body));
    tell?.({ kind: 'taken', answer: body });
    return true;
  }
  return refused(parcel, answer.status, body ?? {});
}

async function refused(parcel: Parcel, status: number, problem: ProblemDetails): Promise<boolean> {
  const failures = (parcel.failures ?? 0) + 1;
  if (status >= 500 && failures < mostFailures) {
    await put({ ...parcel, failures });
    return false;
  }
  const said = problem.detail ?? problem.title ?? `The ledger answered ${status}.`;
  const why = status >= 500 ? `The ledger failed on it ${failures} times: ${said}` : said;
  const tell = watchers.get(parcel.id);
  for (const mend of menders) {
    const mended = status >= 500 ? undefined : mend(parcel, problem, tell !== undefined);
    if (mended !== undefined) {
      await (mended === 'drop' ? leaveOut(parcel.id) : put(mended));
      return true;
    }
  }
  watchers.delete(parcel.id);
  await put({ ...parcel, refused: why });
  tell?.({ kind: 'refused', why, problem });
  return true;
}

function heard(what: string) {
  if (stranger !== what) {
    stranger = what;
    listeners.forEach((tell) => tell());
  }
}

/** Tells of each parcel that the ledger took, with its answer. */
export function onTaken(arrive: (parcel: Parcel, answer: unknown) => void): () => void {
  arrivals.add(arrive);
  return () => arrivals.delete(arrive);
}

/** Has a say in what becomes of a refused parcel before it stands aside. */
export function onRefused(mend: (parcel: Parcel, problem: ProblemDetails, isWatched: boolean) => Mending): void {
  menders.add(mend);
}

/** What waits now, in the order it was made. */
export const waitingParcels = (): readonly Parcel[] => parcels;

function listen(tell: () => void): () => void {
  listeners.add(tell);
  return () => listeners.delete(tell);
}

/** What waits on this device, in the order it was made. */
export const useOutbox = (): readonly Parcel[] => useSyncExternalStore(listen, waitingParcels);

/** Who answers in the ledger's place; empty where nobody does. */
export const strangerNow = (): string => stranger;

/** {@link strangerNow}, as it changes. */
export const useStranger = (): string => useSyncExternalStore(listen, strangerNow);
