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
  /** How it is asked for; POST where nothing is said. */
  method?: string;
  /** The form it was written in, by the name of its draft: a later parcel of the same form takes its place. */
  form?: string;
  /** What stood in that form as it was asked for. */
  written?: string;
  /** Texts of the form whose place this one took: one of them may be in the ledger, with its answer lost. */
  earlier?: unknown[];
  /** The ledger it was made for, by its id; missing where none had answered yet. */
  ledger?: string;
  /** How often the ledger itself failed on it. */
  failures?: number;
  /** Not on the disk of this device yet, or the disk took no more: a page that is closed loses it. Never stored itself. */
  unstored?: 'yet' | 'full';
  /** Why the ledger would not take it; it stands aside until it is mended, sent again or thrown away. */
  refused?: string;
}

export type Delivery =
  | { kind: 'taken'; answer: unknown }
  | { kind: 'refused'; why: string; problem: ProblemDetails }
  | { kind: 'waiting' }
  /** A later text of the same form took its place before it was sent. */
  | { kind: 'replaced' };

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
/** The parcel that is being sent, by its id: what it says stands. */
let onItsWay = '';
const listeners = new Set<() => void>();
const arrivals = new Set<(parcel: Parcel, answer: unknown, isOpen: boolean) => void>();
const menders = new Set<(parcel: Parcel, problem: ProblemDetails, isWatched: boolean) => Mending>();
const watchers = new Map<string, (delivery: Delivery) => void>();
/** Whether the form of a parcel is open, by the parcel's id. */
const open = new Map<string, () => boolean>();

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
window.addEventListener('beforeunload', (event) => {
  if (parcels.some((p) => p.unstored)) {
    event.preventDefault();
  }
});

/** Writes a parcel to the device, then sends it; resolves when the ledger has answered or cannot be reached. */
export async function post(parcel: Omit<Parcel, 'order'>): Promise<Delivery> {
  const answered = new Promise<Delivery>((resolve) => watchers.set(parcel.id, resolve));
  await append(parcel);
  return answered;
}

async function append(parcel: Omit<Parcel, 'order'>): Promise<void> {
  await loaded;
  lastOrder = Math.max(Date.now(), lastOrder + 1, ...parcels.map((p) => p.order + 1));
  const entry: Parcel = { ...parcel, order: lastOrder };
  const ledger = knownLedger();
  if (ledger) {
    entry.ledger = ledger;
  }
  // In sight before it is on the disk, so that two made at once keep their order; said to wait only once it is there.
  say([...parcels, { ...entry, unstored: 'yet' }]);
  const isStored = await store(entry);
  say(parcels.map((p) => (p.id === entry.id ? marked(p, isStored) : p)));
  void send();
}

/** Writes a parcel to the disk; false where that takes no more: it is sent from memory then, and its page says so. */
const store = async (parcel: Parcel): Promise<boolean> =>
  (await device).put('parcels', parcel, parcel.id).then(
    () => true,
    () => false,
  );

function marked(parcel: Parcel, isStored: boolean): Parcel {
  const { unstored: _, ...plain } = parcel;
  return isStored ? plain : { ...plain, unstored: 'full' };
}

/** Where a parcel that the ledger does not have is, in words. */
export const whereabouts = ({ unstored }: Parcel): string =>
  unstored === 'yet'
    ? 'being stored on this device…'
    : unstored === 'full'
      ? 'not stored, this device takes no more: leave the page open until it is sent'
      : 'waits on this device';

/**
 * Posts what was written in a form. It keeps its place among what waits: one of the same form that waits already, from
 * before a reload, is replaced, or only watched where it says the same.
 *
 * @param tell Told each time that it has to wait, and once of its end.
 * @param isOpen Whether the form is still there to be told; where it is not, what is refused stands aside.
 */
export async function postForm(
  parcel: Omit<Parcel, 'order'> & { form: string },
  tell: (delivery: Delivery) => void,
  isOpen: () => boolean,
): Promise<void> {
  await loaded;
  const waiting = parcels.find((p) => p.form === parcel.form && p.id !== onItsWay);
  if (!waiting) {
    watch(parcel.id, tell, isOpen);
    await append(parcel);
    return;
  }
  const isSame = !waiting.refused && JSON.stringify(waiting.json) === JSON.stringify(parcel.json);
  const next: Parcel = isSame
    ? waiting
    : { ...parcel, order: waiting.order, earlier: [...(waiting.earlier ?? []), waiting.json] };
  watch(next.id, tell, isOpen);
  if (!isSame) {
    const isStored = await store(next);
    say(parcels.map((p) => (p.id === waiting.id ? marked(next, isStored) : p)));
    await (await device).delete('parcels', waiting.id);
    watchers.get(waiting.id)?.({ kind: 'replaced' });
    watchers.delete(waiting.id);
    open.delete(waiting.id);
  }
  void send();
}

function watch(id: string, tell: (delivery: Delivery) => void, isOpen: () => boolean) {
  const before = watchers.get(id);
  open.set(id, isOpen);
  watchers.set(id, (delivery) => {
    before?.(delivery);
    tell(delivery);
  });
}

/** Takes a parcel off the device; what it held is given up. */
export async function leaveOut(id: string): Promise<void> {
  await (await device).delete('parcels', id);
  open.delete(id);
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
  const next = marked(parcel, true);
  const isStored = await store(next);
  say(parcels.map((p) => (p.id === parcel.id ? marked(next, isStored) : p)));
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
        waits();
        timer = setTimeout(() => void send(), retryAfter);
        return;
      }
    }
  } finally {
    sending = false;
  }
}

/** A form that is open is told of its end, however long that takes; everybody else is told once that it waits. */
function waits() {
  for (const [id, tell] of [...watchers]) {
    if (parcels.find((p) => p.id === id)?.form === undefined) {
      watchers.delete(id);
    }
    tell({ kind: 'waiting' });
  }
}

/** Whether to go on with the next. Only an answer of this ledger that names the parcel takes it off the device. */
async function sendOne(parcel: Parcel): Promise<boolean> {
  onItsWay = parcel.id;
  const answer = await fetch(parcel.path, {
    method: parcel.method ?? 'POST',
    headers: {
      'X-Person': localStorage.getItem('person-id') ?? '',
      'X-Parcel': parcel.id,
      ...(parcel.ledger ? { 'X-Ledger': parcel.ledger } : {}),
      'content-type': parcel.picture ? parcel.picture.type || 'application/octet-stream' : 'application/json',
    },
    body: parcel.picture ?? JSON.stringify(parcel.json),
    signal: AbortSignal.timeout(parcel.picture ? longestPicture : longestText),
  })
    .catch(() => null)
    .finally(() => (onItsWay = ''));
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
  if ([401, 429, 503, 507].includes(answer.status)) {
    // It is this ledger, and it will take it later: its disk is full, it is busy, or this device has to be let in first.
    const { detail = 'The ledger cannot write at the moment.' } = (body ?? {}) as ProblemDetails;
    heard(detail);
    return false;
  }
  heard('');
  if (answer.ok) {
    const tell = watchers.get(parcel.id);
    watchers.delete(parcel.id);
    const isOpen = open.get(parcel.id)?.() ?? false;
    await leaveOut(parcel.id);
    await follow(parcel, versionAfter(parcel, body));
    arrivals.forEach((arrive) => arrive(parcel, body, isOpen));
    // What else stands on this device for it has gone by now, such as the draft of its form.
    say([...parcels]);
    tell?.({ kind: 'taken', answer: body });
    return true;
  }
  return refused(parcel, answer.status, body ?? {});
}

/** What was written in a form after what the ledger has of it by now was written over that. */
async function follow(parcel: Parcel, version: number): Promise<void> {
  const { form } = parcel;
  const next = form === undefined ? undefined : parcels.find((p) => p.form === form);
  if (next && typeof (next.json as Partial<{ version: number }>).version === 'number') {
    await put({ ...next, json: { ...(next.json as object), version } });
  }
}

/** Sheets of a model have a version each, in the answer of all of them. */
const sheetVersions = [
  ['form/wiring/', 'versionOfWiring'],
  ['form/model-builds/', 'versionOfVariants'],
  ['form/model-safety/', 'versionOfSafety'],
  ['form/model-outside/', 'versionOfOutside'],
  ['form/model-signatures/', 'versionOfSignatures'],
  ['form/model-round-rules/', 'versionOfRoundRules'],
  ['form/circuit/', 'versionOfCircuit'],
  ['form/functions/', 'versionOfFunctions'],
] as const;

/**
 * Whether a text says what was typed: the ledger trims it, leaves out what is empty, and adds what it works out itself.
 */
function saysSame(typed: unknown, text: unknown): boolean {
  if (Array.isArray(typed) && Array.isArray(text)) {
    return typed.length === text.length && typed.every((item, i) => saysSame(item, text[i]));
  }
  if (isObject(typed) && isObject(text)) {
    return Object.keys(typed).every((name) => saysSame(typed[name], text[name]));
  }
  return JSON.stringify(plain(typed)) === JSON.stringify(plain(text));
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

const plain = (value: unknown): unknown => {
  const text = typeof value === 'string' ? value.trim() : value;
  return text === '' || (Array.isArray(text) && text.length === 0) ? null : (text ?? null);
};

/** Whether a clash is none: what stands in the ledger is what was sent, and only its answer was lost. */
export function isOwn({ theirs }: ProblemDetails, sent: unknown): boolean {
  const mine = sent as Record<string, unknown>;
  return (
    theirs !== undefined &&
    Object.keys(theirs).some((name) => name !== 'version') &&
    Object.entries(theirs).every(([name, value]) => name === 'version' || saysSame(mine[name], value))
  );
}

/** The version that a thing has after an edit of its form was taken. */
export function versionAfter({ form = '', json }: Parcel, answer: unknown): number {
  const name = sheetVersions.find(([begins]) => form.startsWith(begins))?.[1] ?? 'version';
  return (answer as Record<string, number | undefined> | null)?.[name] ?? (json as { version: number }).version + 1;
}

async function refused(parcel: Parcel, status: number, problem: ProblemDetails): Promise<boolean> {
  const failures = (parcel.failures ?? 0) + 1;
  if (status >= 500 && failures < mostFailures) {
    await put({ ...parcel, failures });
    return false;
  }
  const said = problem.detail ?? problem.title ?? `The ledger answered ${status}.`;
  const why = status >= 500 ? `The ledger failed on it ${failures} times: ${said}` : said;
  const { version } = problem;
  if (version !== undefined && parcel.earlier?.some((text) => isOwn(problem, text))) {
    const { earlier: _, ...again } = parcel;
    await put({ ...again, json: { ...(parcel.json as object), version } });
    return true;
  }
  const tell = watchers.get(parcel.id);
  if (tell && open.get(parcel.id)?.()) {
    // Its form is open and holds what was written; it says why, and asks which text shall stand.
    watchers.delete(parcel.id);
    await leaveOut(parcel.id);
    tell({ kind: 'refused', why, problem: { ...problem, status } });
    return true;
  }
  for (const mend of menders) {
    const mended = status >= 500 ? undefined : mend(parcel, problem, tell !== undefined);
    if (mended !== undefined) {
      await (mended === 'drop' ? leaveOut(parcel.id) : put(mended));
      if (mended === 'drop' && version !== undefined) {
        await follow(parcel, version);
      }
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

/** Tells of each parcel that the ledger took, with its answer, and whether the form it was written in is open. */
export function onTaken(arrive: (parcel: Parcel, answer: unknown, isOpen: boolean) => void): () => void {
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
