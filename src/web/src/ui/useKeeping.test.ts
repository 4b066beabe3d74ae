import { act, createElement } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { Client } from '../api/generated/client';

type Keeping = typeof import('./useKeeping');
type Outbox = typeof import('../outbox/outbox');

interface Note {
  version: number;
  text: string;
  left?: string[];
}

Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true });
const first: Note = { version: 3, text: 'as it came' };
let keeping: Keeping;
let ask: (typeof import('../api/ledger'))['ask'];
let outbox: Outbox;
let form: ReturnType<typeof keeping.useKeeping<Note>>;
let root: Root;

/** What reached the ledger, in its order: notes as they were sent, parcels by their words. */
let sent: unknown[];
let isGone: boolean;
/** What stands in the ledger; an edit over another version is a clash. */
let stands: Note;
let losesAnswer: boolean;

const ledger = (path: string, request: RequestInit): Promise<Response> => {
  if (isGone) {
    return Promise.reject(new TypeError('Failed to fetch'));
  }
  const json = JSON.parse(request.body as string) as Note;
  const headers = { 'X-Parcel': (request.headers as Record<string, string>)['X-Parcel'] ?? '', 'X-Ledger': 'here' };
  sent.push(path === '/api/notes/1' ? json : json.text);
  if (path === '/api/notes/1') {
    if (json.version !== stands.version) {
      const problem = { theirs: { text: stands.text }, yours: { text: json.text }, version: stands.version };
      return Promise.resolve(new Response(JSON.stringify(problem), { status: 409, headers }));
    }
    stands = { ...json, version: json.version + 1 };
  }
  if (losesAnswer) {
    losesAnswer = false;
    return Promise.reject(new TypeError('Failed to fetch'));
  }
  return Promise.resolve(new Response(JSON.stringify({ version: stands.version }), { status: 200, headers }));
};

const send = (note: Note, client: Client) =>
  ask(client.put<{ 200: { version: number } }>({ url: '/api/notes/1', body: note })) as Promise<{ version: number }>;

/** The form of a page, opened anew. */
async function open(from = first): Promise<void> {
  function Form() {
    form = keeping.useKeeping<Note>('note/1', from, send);
    return null;
  }
  root = createRoot(document.createElement('div'));
  await act(async () => {
    root.render(createElement(Form));
    await settle();
  });
  // What it does as it opens.
  await act(settle);
}

declare const setImmediate: (done: () => void) => void;

/** What the device's store and the answers need to come through. */
async function settle(): Promise<void> {
  for (let i = 0; i < 40; i++) {
    await new Promise<void>((done) => setImmediate(done));
  }
}

/** Writes in the form and leaves the field. */
const write = (text: string) =>
  act(async () => {
    form.write({ ...form.edit, text });
    void form.keep({ ...form.edit, text });
    await settle();
  });

/** Time enough for the device to try again. */
const later = () =>
  act(async () => {
    for (let i = 0; i < 3; i++) {
      await vi.advanceTimersByTimeAsync(1600);
      await settle();
    }
  });

const leave = () => act(() => root.unmount());

beforeEach(async () => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
  vi.stubGlobal('fetch', ledger);
  localStorage.clear();
  localStorage.setItem('ledger-id', 'here');
  [sent, isGone, stands, losesAnswer] = [[], false, { version: 3, text: 'as it came' }, false];
  vi.resetModules();
  outbox = await import('../outbox/outbox');
  keeping = await import('./useKeeping');
  ({ ask } = await import('../api/ledger'));
  await settle();
});

afterEach(async () => {
  leave();
  for (const { id } of outbox.waitingParcels()) {
    await outbox.leaveOut(id);
  }
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const draft = () => localStorage.getItem('draft/form/note/1');

test('what was written with the ledger gone goes when it answers, its page closed, in its order among the rest', async () => {
  isGone = true;
  await open();
  const parcel = (id: string) => ({ id, path: '/api/things', words: id, machineId: 'm', json: { text: id } });
  void outbox.post(parcel('before'));
  await write('typed with the ledger gone');
  void outbox.post(parcel('after'));
  await settle();
  expect(form.isChanged).toBe(true);
  expect(form.error?.message).toMatch(/cannot be reached/);
  leave();
  expect(draft()).toContain('typed with the ledger gone');
  isGone = false;
  await later();
  expect(sent).toEqual(['before', { version: 3, text: 'typed with the ledger gone' }, 'after']);
  expect(draft()).toBeNull();
  expect(outbox.waitingParcels()).toEqual([]);
});

test('opened again before the ledger answers, it is there, and what is written then goes in its place', async () => {
  isGone = true;
  await open();
  await write('a');
  leave();
  await open();
  expect(form.edit.text).toBe('a');
  await write('a and more');
  expect(outbox.waitingParcels()).toHaveLength(1);
  isGone = false;
  await later();
  expect(sent).toEqual([{ version: 3, text: 'a and more' }]);
  expect(form.isChanged).toBe(false);
  expect(form.error).toBeNull();
  expect(draft()).toBeNull();
});

test('all that was written while the ledger was gone goes with its page closed, not only what was written first', async () => {
  isGone = true;
  await open();
  await write('a');
  await write('a and b');
  leave();
  isGone = false;
  await later();
  expect(sent).toEqual([{ version: 3, text: 'a and b' }]);
  expect(draft()).toBeNull();
});

test('a text whose answer was lost and that another took the place of is no clash with oneself', async () => {
  losesAnswer = true;
  await open();
  await write('arrived');
  isGone = true;
  await write('arrived, and more');
  isGone = false;
  await later();
  expect(form.isClash).toBe(false);
  expect(stands).toEqual({ version: 5, text: 'arrived, and more' });
  expect(outbox.waitingParcels()).toEqual([]);
});

test('what was written and not asked for before its page was left is written over what was taken meanwhile', async () => {
  isGone = true;
  await open();
  await write('a');
  act(() => form.write({ ...first, text: 'a, and half a word' }));
  leave();
  isGone = false;
  await later();
  expect(JSON.parse(draft() ?? '')).toEqual({ version: 4, text: 'a, and half a word' });
  await open(stands);
  expect(sent.at(-1)).toEqual({ version: 4, text: 'a, and half a word' });
  expect(form.isClash).toBe(false);
});

test('what was asked for beyond what was written is asked for, such as to close it', async () => {
  isGone = true;
  await open();
  await act(async () => {
    void form.keep({ ...form.edit, left: ['closed'] });
    await settle();
  });
  isGone = false;
  await later();
  expect(sent).toEqual([{ ...first, left: ['closed'] }]);
});

test('what was written over an older version clashes as it would have then, and taking theirs lets the own go', async () => {
  isGone = true;
  await open();
  act(() => form.write({ ...first, text: 'mine' }));
  leave();
  isGone = false;
  stands = { version: 9, text: 'by somebody else' };
  await open(stands);
  expect(sent).toEqual([{ version: 3, text: 'mine' }]);
  expect(form.isClash).toBe(true);
  expect(form.edit.text).toBe('mine');
  // The form asks which shall stand; nothing waits for an answer elsewhere.
  expect(outbox.waitingParcels()).toEqual([]);
  act(() => form.settle(stands));
  expect(form.edit).toEqual(stands);
  expect(form.isClash).toBe(false);
  expect(draft()).toBeNull();
});

test('a clash with its page closed stands aside with its text, and its page asks which shall stand', async () => {
  isGone = true;
  await open();
  await write('mine');
  leave();
  isGone = false;
  stands = { version: 9, text: 'by somebody else' };
  await later();
  expect(outbox.waitingParcels()).toMatchObject([{ form: 'form/note/1', json: { text: 'mine' } }]);
  expect(outbox.waitingParcels()[0]?.refused).toBeTruthy();
  await open(stands);
  expect(form.isClash).toBe(true);
  expect(form.edit.text).toBe('mine');
  expect(outbox.waitingParcels()).toEqual([]);
});

test('where only the answer was lost, the same text is no clash', async () => {
  losesAnswer = true;
  await open();
  await write('arrived');
  await later();
  expect(form.isClash).toBe(false);
  expect(form.isChanged).toBe(false);
  expect(stands).toEqual({ version: 4, text: 'arrived' });
  expect(draft()).toBeNull();
});

test('a draft that says what the ledger says, or that nobody can read, is none', () => {
  localStorage.setItem('draft/form/a', JSON.stringify({ version: 1, text: 'as it came' }));
  localStorage.setItem('draft/form/b', '{"version":1,');
  localStorage.setItem('draft/form/c', JSON.stringify({ version: 1, text: 'other' }));
  expect(keeping.writtenBefore('a', first)).toBeUndefined();
  expect(keeping.writtenBefore('b', first)).toBeUndefined();
  expect(keeping.writtenBefore('c', first)).toEqual({ version: 1, text: 'other' });
  expect(keeping.writtenBefore('none', first)).toBeUndefined();
});
