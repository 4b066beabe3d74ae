import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import { useSyncExternalStore } from 'react';
import type { ProblemDetails } from '../api/ledger';

/** Something made on this device that the ledger has not acknowledged; the same id goes until it has. */
export interface Parcel {
  id: string;
  /** Rises with each; parcels go in this order, since a later one may rest on an earlier. */
  order: number;
  path: string;
  /** What it is, in words, for the list of what waits. */
  words: string;
  /** The machine it belongs to, by id. */
  machineId: string;
  /** The photograph it belongs to, where it does. */
  photographId?: string;
  json?: unknown;
  picture?: Blob;
  /** Why the ledger would not take it; it waits until it is sent again or left out. */
  refused?: string;
}

export type Delivery =
  { kind: 'taken'; answer: unknown } | { kind: 'refused'; why: string; problem: ProblemDetails } | { kind: 'waiting' };

interface Device extends DBSchema {
  parcels: { key: string; value: Parcel };
}

const retryAfter = 2000;
const longest = 120_000;
const device: Promise<IDBPDatabase<Device>> = openDB<Device>('rusty-ledger-outbox', 1, {
  upgrade: (db) => void db.createObjectStore('parcels'),
});

let parcels: readonly Parcel[] = [];
let sending = false;
let timer: ReturnType<typeof setTimeout> | undefined;
let lastOrder = 0;
const listeners = new Set<() => void>();
const arrivals = new Set<(parcel: Parcel) => void>();
const watchers = new Map<string, (delivery: Delivery) => void>();

function say(next: readonly Parcel[]) {
  parcels = next;
  listeners.forEach((tell) => tell());
}

const loaded = device.then(async (db) => {
  say((await db.getAll('parcels')).sort((a, b) => a.order - b.order));
  void send();
});
window.addEventListener('online', () => void send());

/** Writes a parcel to the device, then sends it; resolves when the ledger has answered or cannot be reached. */
export async function post(parcel: Omit<Parcel, 'order'>): Promise<Delivery> {
  await loaded;
  lastOrder = Math.max(Date.now(), lastOrder + 1, ...parcels.map((p) => p.order + 1));
  const entry: Parcel = { ...parcel, order: lastOrder };
  await (await device).put('parcels', entry, entry.id);
  const answered = new Promise<Delivery>((resolve) => watchers.set(entry.id, resolve));
  say([...parcels, entry]);
  void send();
  return answered;
}

/** Takes a parcel off the device; what it held is given up. */
export async function leaveOut(id: string): Promise<void> {
  await (await device).delete('parcels', id);
  say(parcels.filter((p) => p.id !== id));
}

/** Sends a refused parcel once more. */
export async function sendAgain(id: string): Promise<void> {
  const parcel = parcels.find((p) => p.id === id);
  if (parcel) {
    const again = { ...parcel };
    delete again.refused;
    await (await device).put('parcels', again, id);
    say(parcels.map((p) => (p.id === id ? again : p)));
    void send();
  }
}

async function send(): Promise<void> {
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

/** Whether to go on with the next. */
async function sendOne(parcel: Parcel): Promise<boolean> {
  const person = localStorage.getItem('person-id') ?? '';
  const answer = await fetch(parcel.path, {
    method: 'POST',
    headers: {
      'X-Person': person,
      'content-type': parcel.picture ? parcel.picture.type || 'application/octet-stream' : 'application/json',
    },
    body: parcel.picture ?? JSON.stringify(parcel.json),
    signal: AbortSignal.timeout(longest),
  }).catch(() => null);
  if (!answer || answer.status >= 500) {
    return false;
  }
  const body = (await answer.json().catch(() => ({}))) as ProblemDetails;
  const tell = watchers.get(parcel.id);
  watchers.delete(parcel.id);
  if (answer.ok) {
    await leaveOut(parcel.id);
    arrivals.forEach((arrive) => arrive(parcel));
    tell?.({ kind: 'taken', answer: body });
    return true;
  }
  const why = body.detail ?? body.title ?? `The ledger answered ${answer.status}.`;
  const refused: Parcel = { ...parcel, refused: why };
  await (await device).put('parcels', refused, parcel.id);
  say(parcels.map((p) => (p.id === parcel.id ? refused : p)));
  tell?.({ kind: 'refused', why, problem: body });
  return true;
}

/** Tells of each parcel that the ledger took. */
export function onTaken(arrive: (parcel: Parcel) => void): () => void {
  arrivals.add(arrive);
  return () => arrivals.delete(arrive);
}

/** What waits on this device, in the order it was made. */
export function useOutbox(): readonly Parcel[] {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => parcels,
  );
}
