import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { createElement } from 'react';
import { flushSync } from 'react-dom';
import { createRoot, type Root } from 'react-dom/client';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { LayoutEdit, LayoutTables } from '../api/generated';
import { waitingParcels } from '../outbox/outbox';
import { useTables } from './useTables';

let page: ReturnType<typeof useTables>;
let root: Root;
/** What stood in the cell each time that the page was drawn. */
let drawn: string[];
/** What the ledger answers with, and the answers that it still owes. */
let stands: LayoutTables;
let owed: (() => void)[];

const tablesWith = (signal: string): LayoutTables => ({
  boardTypeId: 'hall',
  partNumber: 'H-1',
  revision: 'A',
  name: 'Hall',
  widthMm: 100,
  heightMm: 80,
  isSizeGuess: false,
  version: 1,
  rows: [{ kind: 'pin', parent: 'j1', id: '1', cells: { signal } }],
  states: [],
  machines: [],
  revisions: [],
  details: {},
});

const edit = (before: string, text: string): LayoutEdit => ({
  kind: 'set',
  row: 'pin',
  parent: 'j1',
  id: '1',
  column: 'signal',
  before,
  text,
});

/** Takes a cell whose text before is the one that stands, and writes it small; it refuses the word "no". */
const ledger = (_: string, request: RequestInit): Promise<Response> =>
  new Promise((answer) =>
    owed.push(() => {
      const [last] = (JSON.parse(request.body as string) as LayoutEdit[]).slice(-1);
      const problems =
        last?.text === 'no'
          ? [{ edit: 0, message: 'No.' }]
          : last?.before === stands.rows[0]?.cells.signal
            ? []
            : [{ edit: 0, message: `Made over ${last?.before ?? ''}.` }];
      if (problems.length === 0) {
        stands = tablesWith(last?.text.toLowerCase() ?? '');
      }
      const headers = { 'X-Parcel': (request.headers as Record<string, string>)['X-Parcel'] ?? '', 'X-Ledger': 'here' };
      answer(new Response(JSON.stringify({ tables: stands, problems }), { status: 200, headers }));
    }),
  );

const draw = (next: typeof page) => {
  page = next;
  drawn.push(page.rows[0]?.cells.signal ?? '');
};

function Page() {
  const { data } = useQuery({ queryKey: ['tables', 'hall'], queryFn: () => stands, initialData: stands });
  draw(useTables(data));
  return null;
}

const cell = () => drawn.at(-1);
const type = (text: string) => flushSync(() => page.change([edit(cell() ?? '', text)]));

/** The answers that are owed come, and all that follows from them is drawn. */
async function answered(): Promise<void> {
  await vi.waitFor(() => expect(owed.length).toBeGreaterThan(0));
  owed.splice(0).forEach((give) => give());
  await vi.waitFor(() => {
    owed.splice(0).forEach((give) => give());
    expect(waitingParcels()).toEqual([]);
    expect(page.isKeeping).toBe(false);
  });
}

beforeEach(() => {
  vi.stubGlobal('fetch', ledger);
  localStorage.clear();
  localStorage.setItem('ledger-id', 'here');
  [drawn, owed, stands] = [[], [], tablesWith('count 1')];
  root = createRoot(document.createElement('div'));
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } });
  flushSync(() => root.render(createElement(QueryClientProvider, { client }, createElement(Page))));
  drawn = drawn.slice(-1);
});

afterEach(() => {
  root.unmount();
  vi.unstubAllGlobals();
});

test('what is typed stands in its cell from the key until the ledger has it, and is never the old text in between', async () => {
  type('count');
  expect(cell()).toBe('count');
  expect(page.isKeeping).toBe(true);
  await answered();
  expect(new Set(drawn)).toEqual(new Set(['count 1', 'count']));
  expect(drawn.lastIndexOf('count 1')).toBeLessThan(drawn.indexOf('count'));
  expect(stands.rows[0]?.cells.signal).toBe('count');
});

test('keys in a row, taken back and done again before anything is answered, are made one over the other', async () => {
  type('one');
  type('two');
  flushSync(() => page.undo());
  expect(cell()).toBe('one');
  flushSync(() => page.redo());
  expect(cell()).toBe('two');
  type('three');
  await answered();
  expect(page.problems.size).toBe(0);
  expect(cell()).toBe('three');
  expect(stands.rows[0]?.cells.signal).toBe('three');
});

test('what is refused stays in its cell until it is mended, and the mended text stands from its key on', async () => {
  type('no');
  await answered();
  expect(cell()).toBe('no');
  expect(page.isRefused).toBe(true);
  const refusedAt = drawn.length;
  type('yes');
  await answered();
  expect(new Set(drawn.slice(refusedAt))).toEqual(new Set(['yes']));
  expect(page.isRefused).toBe(false);
  expect(stands.rows[0]?.cells.signal).toBe('yes');
});

test('a text that the ledger writes as it stood already gives way to that', async () => {
  type('COUNT 1');
  expect(cell()).toBe('COUNT 1');
  await answered();
  expect(cell()).toBe('count 1');
});
