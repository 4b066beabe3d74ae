import { act, createElement } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';

type Acts = typeof import('./useAct');
type Outbox = typeof import('./outbox');

Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true });
let acts: Acts;
let outbox: Outbox;
let ask: (typeof import('../api/ledger'))['ask'];
let root: Root;
let note: ReturnType<typeof acts.useAct<{ id: string }>>;
/** What stands in the field of the page. */
let field: string;
/** What the ledger took, and how it is. */
let taken: string[];
let fate: 'taken' | 'gone' | 'refused' | 'full';

const ledger = (_: string, request: RequestInit): Promise<Response> => {
  if (fate === 'gone') {
    return Promise.reject(new TypeError('Failed to fetch'));
  }
  const headers = { 'X-Parcel': (request.headers as Record<string, string>)['X-Parcel'] ?? '', 'X-Ledger': 'here' };
  if (fate === 'refused' || fate === 'full') {
    const status = fate === 'full' ? 507 : 422;
    return Promise.resolve(new Response(JSON.stringify({ detail: `It is ${fate}.` }), { status, headers }));
  }
  const json = JSON.parse(request.body as string) as { text: string };
  taken.push(json.text);
  return Promise.resolve(new Response(JSON.stringify({ id: json.text }), { status: 200, headers }));
};

declare const setImmediate: (done: () => void) => void;

/** What the device's store and the answers need to come through. */
async function settle(): Promise<void> {
  for (let i = 0; i < 40; i++) {
    await new Promise<void>((done) => setImmediate(done));
  }
}

const later = () =>
  act(async () => {
    for (let i = 0; i < 5; i++) {
      await vi.advanceTimersByTimeAsync(1600);
      await settle();
    }
  });

/** The page with its field, from which a note is sent by one press. */
async function open(): Promise<void> {
  function Page() {
    const text = field;
    note = acts.useAct({
      words: `a note, ${text}`,
      send: (client) =>
        ask(client.post<{ 200: { id: string } }>({ url: '/api/notes', body: { text } })) as Promise<{ id: string }>,
      sent: () => (field = ''),
      back: () => {
        if (field !== '') {
          return false;
        }
        field = text;
        return true;
      },
    });
    return null;
  }
  root = createRoot(document.createElement('div'));
  await act(async () => {
    root.render(createElement(Page));
    await settle();
  });
}

const press = () =>
  act(async () => {
    note.act();
    await settle();
  });

const waiting = () => outbox.waitingParcels().map((p) => [p.words, p.refused]);

beforeEach(async () => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
  vi.stubGlobal('fetch', ledger);
  localStorage.clear();
  localStorage.setItem('ledger-id', 'here');
  [field, taken, fate] = ['dim lamp', [], 'taken'];
  vi.resetModules();
  outbox = await import('./outbox');
  acts = await import('./useAct');
  ({ ask } = await import('../api/ledger'));
  await settle();
});

afterEach(async () => {
  act(() => root.unmount());
  for (const { id } of outbox.waitingParcels()) {
    await outbox.leaveOut(id);
  }
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test('what is done by a press is on the device before it is on its way, and its field is free', async () => {
  await open();
  await press();
  expect([field, taken, waiting()]).toEqual(['', ['dim lamp'], []]);
});

test('with the ledger gone it waits, and goes with its page closed', async () => {
  fate = 'gone';
  await open();
  await press();
  expect([field, note.waits, waiting()]).toEqual(['', true, [['a note, dim lamp', undefined]]]);
  act(() => root.unmount());
  fate = 'taken';
  await later();
  expect([taken, waiting()]).toEqual([['dim lamp'], []]);
});

test('what is refused comes back into its field, and stays in the queue where something else is typed there', async () => {
  fate = 'refused';
  await open();
  await press();
  expect([field, note.error?.message, waiting()]).toEqual(['dim lamp', 'It is refused.', []]);

  await act(async () => {
    note.act();
    field = 'something else';
    await settle();
  });
  expect([field, waiting()]).toEqual(['something else', [['a note, dim lamp', 'It is refused.']]]);
});

test('a full disk is no refusal: it waits until there is room', async () => {
  fate = 'full';
  await open();
  await press();
  await later();
  expect([waiting(), outbox.strangerNow()]).toEqual([[['a note, dim lamp', undefined]], 'It is full.']);
  fate = 'taken';
  await later();
  expect([taken, waiting(), outbox.strangerNow()]).toEqual([['dim lamp'], [], '']);
});
