import { expect, test } from 'vitest';
import { plugLayout, rowsOf, spread, textOfRows, withChanges } from './sheetGrid';

const row = (pin: string, reads = '') => [pin, '', '', reads, '', '', ''];

test('a run of pins makes a row each, however it is typed', () => {
  for (const typed of ['J4 1-12', 'J4-1-12', 'J4 1..12', 'J4: 1 to 12', 'J4 1 – 12']) {
    const rows = spread(row(typed, '24 V'));
    expect(rows).toHaveLength(12);
    expect(rows[0]).toEqual(row('J4-1', '24 V'));
    expect(rows[11]?.[0]).toBe('J4-12');
  }
  for (const single of ['J4-1', 'P12', 'J4 12-1', 'J4 1-900', '12-13', '']) {
    expect(spread(row(single))).toEqual([row(single)]);
  }
});

test('rows go into the text that is read, and come back; a pasted sheet is left as it is', () => {
  const rows = withChanges(
    [],
    [
      { row: '0', column: 'pin', text: 'DRIVE J1 1-3' },
      { row: '0', column: 'reads', text: '24 V\twith a tab' },
    ],
  );
  expect(rows.map((r) => r[0])).toEqual(['DRIVE J1-1', 'DRIVE J1-2', 'DRIVE J1-3']);
  expect(rowsOf(textOfRows(rows))).toEqual(rows);
  expect(rowsOf('')).toEqual([]);
  expect(rowsOf('Conn,Pin,Volts\nJ1,1,24')).toBeUndefined();
  expect(textOfRows([row(''), row('')])).toBe('');
});

test('a plug is numbered by row, by column or zigzag, and mirrored from its mating face', () => {
  expect(plugLayout(6, 2, 'row', 'wire')).toEqual([
    [1, 2, 3],
    [4, 5, 6],
  ]);
  expect(plugLayout(6, 2, 'column', 'wire')).toEqual([
    [1, 3, 5],
    [2, 4, 6],
  ]);
  expect(plugLayout(6, 2, 'zigzag', 'mating')).toEqual([
    [3, 2, 1],
    [4, 5, 6],
  ]);
  // Every number once, whatever the shape.
  for (const order of ['row', 'column', 'zigzag'] as const) {
    for (let pins = 1; pins <= 24; pins++) {
      const all = plugLayout(pins, Math.min(3, pins), order, 'mating')
        .flat()
        .filter((n) => n !== null);
      expect(all.sort((a, b) => a - b)).toEqual(Array.from({ length: pins }, (_, i) => i + 1));
    }
  }
});
