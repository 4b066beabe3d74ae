import { expect, test } from 'vitest';
import { blockOf, fromClipboard, inside, reversed, toClipboard } from './grid';

const cells = ['', 'a', '0.5 A', 'with "quotes"', 'a\ttab', 'two\nlines', '"', ' spaced ', 'a\r\nb', '…·Ω'];

/** Every small table of the cells above, by counting. */
function* tables(rows: number, columns: number): Generator<string[][]> {
  for (let n = 0; n < 400; n++) {
    let at = n * 7919;
    yield Array.from({ length: rows }, () =>
      Array.from({ length: columns }, () => {
        at = (at * 31 + 17) % 104729;
        return cells[at % cells.length] ?? '';
      }),
    );
  }
}

test('what goes onto the clipboard comes back', () => {
  for (const [rows, columns] of [
    [1, 2],
    [2, 2],
    [3, 4],
  ] as const) {
    for (const table of tables(rows, columns)) {
      // A last row of one empty cell is what a last line break leaves; tables of two columns and more have none.
      expect(fromClipboard(toClipboard(table))).toEqual(table);
    }
  }
});

test('a spreadsheet’s last line break makes no row', () => {
  expect(fromClipboard('a\tb\r\nc\td\r\n')).toEqual([
    ['a', 'b'],
    ['c', 'd'],
  ]);
  expect(fromClipboard('a\nb')).toEqual([['a'], ['b']]);
  expect(fromClipboard('"a ""b"" c"\t"d\ne"')).toEqual([['a "b" c', 'd\ne']]);
});

test('a block is the same from each of its corners, and its cells are read row by row', () => {
  const corners = [
    { row: 1, column: 4 },
    { row: 3, column: 2 },
    { row: 1, column: 2 },
    { row: 3, column: 4 },
  ] as const;
  const block = { top: 1, bottom: 3, left: 2, right: 4 };
  expect(blockOf(corners[0], corners[1])).toEqual(block);
  expect(blockOf(corners[2], corners[3])).toEqual(block);
  expect(inside({ top: 1, bottom: 2, left: 2, right: 3 })).toEqual([
    [1, 2],
    [1, 3],
    [2, 2],
    [2, 3],
  ]);
});

test('any steps and their reverse leave what was there', () => {
  const start = { 'r1/a': '1', 'r1/b': '2' };
  const now: Record<string, string> = { ...start };
  const steps = ['3', '', '1', '7'].map((text, i) => {
    const column = i % 2 ? 'b' : 'a';
    const change = { row: 'r1', column, before: now[`r1/${column}`] ?? '', text };
    now[`r1/${column}`] = text;
    return change;
  });
  for (const change of reversed(steps)) {
    expect(now[`${change.row}/${change.column}`]).toBe(change.before);
    now[`${change.row}/${change.column}`] = change.text;
  }
  expect(now).toEqual(start);
});
