import { afterEach, beforeEach, expect, test, vi } from 'vitest';

type Outbox = typeof import('./outbox');

/** How one request ends. */
type Fate = 'taken' | 'answer lost' | 'gone' | 'log-in page' | 'another ledger' | 'failed' | 'refused' | 'cut off';

/** A ledger that takes each id once, whatever happens to its answers. */
class Ledger {
  readonly taken: string[] = [];
  fate: (id: string) => Fate = () => 'taken';

  /** The page that asks is being left: it hears no more. */
  isLeft = false;

  readonly answer = (_: string, request: RequestInit): Promise<Response> => {
    if (this.isLeft) {
      return new Promise(() => undefined);
    }
    const headers = request.headers as Record<string, string>;
    const id = headers['X-Parcel'] ?? '';
    const fate = this.fate(id);
    const named = { 'X-Parcel': id, 'X-Ledger': fate === 'another ledger' ? 'elsewhere' : 'here' };
    if (fate === 'gone') {
      return Promise.reject(new TypeError('Failed to fetch'));
    }
    if (fate === 'log-in page') {
      return Promise.resolve(new Response('<html>Welcome to our network</html>', { status: 200 }));
    }
    if (fate === 'failed') {
      return Promise.resolve(new Response('{"detail":"The disk is full."}', { status: 500, headers: named }));
    }
    if (fate === 'refused') {
      return Promise.resolve(new Response('{"detail":"Not so."}', { status: 422, headers: named }));
    }
    if (fate !== 'another ledger' && !this.taken.includes(id)) {
      this.taken.push(id);
    }
    return fate === 'answer lost'
      ? Promise.reject(new TypeError('Failed to fetch'))
      : Promise.resolve(new Response(fate === 'cut off' ? '{"id":' : '{}', { status: 200, headers: named }));
  };
}

let ledger: Ledger;
let outbox: Outbox;

declare const setImmediate: (done: () => void) => void;

/** What the device's store and the answers need to come through. */
async function settle(): Promise<void> {
  for (let i = 0; i < 40; i++) {
    await new Promise<void>((done) => setImmediate(done));
  }
}

/** As a page that is loaded anew: nothing in memory, all that is on the device. */
async function reload(): Promise<void> {
  ledger.isLeft = true;
  vi.clearAllTimers();
  await settle();
  vi.resetModules();
  ledger.isLeft = false;
  outbox = await import('./outbox');
  await settle();
}

const parcel = (id: string, text = id) => ({ id, path: '/api/things', words: text, machineId: 'm', json: { text } });

/** Lets the device try again until nothing but what was refused waits, or so many tries were made. */
async function until(done: () => boolean, tries = 200): Promise<void> {
  for (let i = 0; i < tries && !done(); i++) {
    await vi.advanceTimersByTimeAsync(1500);
    await settle();
  }
}

const left = () => outbox.waitingParcels().map((p) => p.id);

beforeEach(async () => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
  ledger = new Ledger();
  vi.stubGlobal('fetch', ledger.answer);
  localStorage.setItem('ledger-id', 'here');
  await reload();
});

afterEach(async () => {
  for (const { id } of outbox.waitingParcels()) {
    await outbox.leaveOut(id);
  }
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test('whatever becomes of the answers, each parcel is taken once and in the order in which it was made', async () => {
  const fates: Fate[] = ['gone', 'log-in page', 'another ledger', 'answer lost', 'cut off', 'taken', 'taken'];
  for (let seed = 1; seed <= 12; seed++) {
    let dice = seed;
    // Exact in 53 bits: a small multiplier, modulus 2^31 - 1.
    const next = () => (dice = (dice * 48271) % 2147483647);
    ledger.taken.length = 0;
    ledger.fate = () => fates[next() % fates.length] ?? 'taken';
    const made = Array.from({ length: 8 }, (_, i) => `p${seed}-${i}`);
    for (const [i, id] of made.entries()) {
      void outbox.post(parcel(id));
      if (i === 4) {
        await settle();
        await reload();
      }
    }
    await until(() => left().length === 0);
    expect(left()).toEqual([]);
    expect(ledger.taken).toEqual(made);
  }
});

test.each([
  ['log-in page', /log-in page/],
  ['another ledger', /Another ledger/],
] as const)('a %s takes nothing from the device, and is said', async (fate, words) => {
  ledger.fate = () => fate;
  const delivery = await outbox.post(parcel('a'));
  expect(delivery.kind).toBe('waiting');
  await until(() => false, 5);
  expect(left()).toEqual(['a']);
  expect(outbox.strangerNow()).toMatch(words);
  await reload();
  ledger.fate = () => 'taken';
  await until(() => left().length === 0);
  expect(ledger.taken).toEqual(['a']);
  expect(outbox.strangerNow()).toBe('');
});

test('what is refused steps aside with its reason; what comes after goes on, and mended it goes too', async () => {
  ledger.fate = (id) => (id === 'bad' ? 'refused' : 'taken');
  const bad = outbox.post(parcel('bad'));
  const good = outbox.post(parcel('good'));
  expect(await bad).toMatchObject({ kind: 'refused', why: 'Not so.' });
  expect((await good).kind).toBe('taken');
  expect(outbox.waitingParcels()).toMatchObject([{ id: 'bad', refused: 'Not so.', json: { text: 'bad' } }]);
  await reload();
  await until(() => false, 3);
  expect(outbox.waitingParcels()).toMatchObject([{ id: 'bad', refused: 'Not so.' }]);
  ledger.fate = () => 'taken';
  await outbox.sendAgain('bad', { text: 'mended' });
  await until(() => left().length === 0);
  expect(ledger.taken).toEqual(['good', 'bad']);
});

test('a ledger that fails on one parcel is asked three times, then the others go on', async () => {
  let asked = 0;
  ledger.fate = (id) => {
    asked += id === 'heavy' ? 1 : 0;
    return id === 'heavy' ? 'failed' : 'taken';
  };
  void outbox.post(parcel('heavy'));
  void outbox.post(parcel('light'));
  await until(() => left().length === 1);
  expect(asked).toBe(3);
  expect(ledger.taken).toEqual(['light']);
  expect(outbox.waitingParcels()[0]?.refused).toBe('The ledger failed on it 3 times: The disk is full.');
});

test('what is left out is given up, and the rest goes', async () => {
  ledger.fate = () => 'gone';
  void outbox.post(parcel('one'));
  void outbox.post(parcel('two'));
  await until(() => false, 2);
  await outbox.leaveOut('one');
  ledger.fate = () => 'taken';
  await until(() => left().length === 0);
  expect(ledger.taken).toEqual(['two']);
});

test('a parcel is said to wait on this device once it is on its disk, and is there after a reload from then on', async () => {
  ledger.fate = () => 'gone';
  const seen: string[] = [];
  void outbox.post(parcel('photograph'));
  for (let i = 0; i < 40 && !seen.includes('waits on this device'); i++) {
    await new Promise<void>((done) => setImmediate(done));
    seen.push(...outbox.waitingParcels().map(outbox.whereabouts));
  }
  expect([seen[0], seen.at(-1)]).toEqual(['being stored on this device…', 'waits on this device']);
  await reload();
  expect(outbox.waitingParcels().map((p) => [p.id, p.unstored])).toEqual([['photograph', undefined]]);
});

test('what the disk of this device will not take is said so, asked about before the page goes, and sent from memory', async () => {
  ledger.fate = () => 'gone';
  const put = vi.spyOn(IDBObjectStore.prototype, 'put').mockImplementation(() => {
    throw new DOMException('Full.', 'QuotaExceededError');
  });
  const leaving = () => !window.dispatchEvent(new Event('beforeunload', { cancelable: true }));
  expect(leaving()).toBe(false);
  void outbox.post(parcel('too large'));
  await settle();
  expect(outbox.waitingParcels().map(outbox.whereabouts)).toEqual([
    'not stored, this device takes no more: leave the page open until it is sent',
  ]);
  expect(leaving()).toBe(true);
  ledger.fate = () => 'taken';
  await until(() => left().length === 0);
  expect(ledger.taken).toEqual(['too large']);
  expect(leaving()).toBe(false);
  put.mockRestore();
});

test.each([
  ['as it was typed', { sheet: { name: ' 12 V ', parts: [] } }, true],
  ['another name', { sheet: { name: '5 V', parts: [] } }, false],
  ['a part more', { sheet: { name: '12 V', parts: ['lamp'] } }, false],
] as const)('what stands in the ledger trimmed and worked out is the own text: %s', (_, sent, isOwn) => {
  const theirs = { sheet: { name: '12 V', parts: [], notToldApart: [['a', 'b']] } };
  expect(outbox.isOwn({ theirs, version: 4 }, sent)).toBe(isOwn);
});
