import { expect, test } from 'vitest';
import type { ProbeView, RowView, RoundView } from '../api/generated';
import { changesBetween, lineOf, markOf, nextDown, sheetOf } from './sheet';
import type { WaitingLine } from './lines';

const probe = (printed: string) =>
  ({
    address: { position: 'z1', part: null, place: null, pin: printed },
    printed,
    element: printed.split('·')[0],
  }) as unknown as ProbeView;

const row = (key: string, more: Partial<RowView> = {}): RowView =>
  ({
    key,
    state: 'running',
    stateName: 'belt running',
    energised: true,
    mode: 'dcVolts',
    modeWords: 'DC volts',
    access: '',
    sums: [],
    plugged: null,
    deadOnly: false,
    red: probe(`Z1-J1·${key}`),
    black: probe('Z1-J1·2'),
    reading: null,
    skipped: null,
    limit: null,
    tolerance: { percent: 5, volts: 0.3, ohms: 0.5 },
    ...more,
  }) as unknown as RowView;

const waiting = (id: string, checkKey: string | null, more: object = {}, roundId = 'r1'): WaitingLine =>
  ({ roundId, line: { id, checkKey, kind: 'taken', target: null, ...more } }) as unknown as WaitingLine;

const view = (rows: RowView[]): RoundView => ({ id: 'r1', rows }) as unknown as RoundView;

test('the last line that waits stands on its row; another round’s and a taken back one do not', () => {
  const lines = sheetOf(view([row('1'), row('2')]), [
    waiting('a', '1'),
    waiting('b', '1'),
    waiting('c', '2', {}, 'r2'),
    waiting('d', '2'),
    waiting('e', null, { kind: 'retracted', target: 'd' }),
  ]);
  expect(lines.map((l) => l.waiting?.line.id)).toEqual(['b', undefined]);
});

test('what waits is never shown as judged', () => {
  const judged = { verdict: 'within' } as RowView['reading'];
  expect(markOf({ row: row('1', { reading: judged }), waiting: undefined })).toBe('within');
  expect(markOf({ row: row('1', { reading: judged }), waiting: waiting('a', '1') })).toBe('notJudged');
  expect(markOf({ row: row('1'), waiting: waiting('a', '1', { kind: 'skipped' }) })).toBe('skipped');
  expect(markOf({ row: row('1', { skipped: '' }), waiting: undefined })).toBe('skipped');
  expect(markOf({ row: row('1'), waiting: undefined })).toBe('untouched');
});

test('without the ledger the next row is the next open one of the same state, round the end, and dead ones only once proved', () => {
  const rows = [
    row('1'),
    row('2', { state: 'off' }),
    row('3', { skipped: 'later' }),
    row('4'),
    row('5', { state: 'off', deadOnly: true }),
  ];
  const lines = sheetOf(view(rows), []);
  expect(nextDown(lines, '1', true)).toBe('4');
  expect(nextDown(lines, '4', true)).toBe('1');
  const allButOff = sheetOf(view(rows), [waiting('a', '1'), waiting('b', '4')]);
  expect(nextDown(allButOff, '4', false)).toBe('2');
  expect(nextDown(allButOff, '2', true)).toBe('5');
  expect(nextDown(allButOff, '2', false)).toBeNull();
});

test('what the hands must change is said, and nothing else', () => {
  const before = row('1');
  expect(changesBetween(before, row('2'))).toEqual([]);
  expect(changesBetween(before, before)).toEqual([]);
  expect(changesBetween(undefined, before)).toEqual([]);
  expect(
    changesBetween(
      before,
      row('3', {
        state: 'off',
        stateName: 'off',
        energised: false,
        mode: 'ohms',
        modeWords: 'ohms',
        black: probe('PS·-'),
        plugged: false,
        access: 'cover off',
      }),
    ),
  ).toEqual([
    'Machine: off, switched off and proved dead',
    'To get at it: cover off',
    'Meter: ohms',
    'Black probe: PS·-',
    'Z1-J1: unplugged',
  ]);
});

test('a line carries the check as it was shown, and a later one has the higher order', () => {
  const shown = row('1', { plugged: true, state: 'running' });
  const [first, second] = [lineOf(shown, 'edda', { typed: '24.1' }), lineOf(shown, 'edda', { typed: '24.2' })];
  expect(first).toMatchObject({ checkKey: '1', typed: '24.1', plugged: true, personId: 'edda', state: 'running' });
  expect(first.red).toEqual({ address: shown.red?.address, printed: 'Z1-J1·1' });
  expect(second.order).toBeGreaterThan(first.order);
  expect(second.id).not.toBe(first.id);
});
