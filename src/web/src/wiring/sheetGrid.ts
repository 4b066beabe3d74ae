import type { CellChange } from '../ui/grid';

/** The columns of a sheet that is typed row by row; the headings that the ledger reads. */
export const gridColumns = [
  ['pin', 'Pin'],
  ['colour', 'Colour'],
  ['signal', 'Signal'],
  ['reads', 'Should read'],
  ['black', 'Black probe'],
  ['to', 'Goes to'],
  ['remark', 'Remark'],
] as const;

const heading = gridColumns.map(([, label]) => label).join('\t');

/** A run of pins as it is typed, such as `J4 1-12`. */
const run = /^(.*[^\s·.:-])[\s·.:-]+(\d{1,3})\s*(?:-|–|\.\.|to)\s*(\d{1,3})$/i;
const mostPins = 64;

/** The rows of a sheet that was typed row by row; undefined for one that was pasted, which is read as it is. */
export function rowsOf(text: string): string[][] | undefined {
  if (text.trim() === '') {
    return [];
  }
  const [first = '', ...lines] = text.split('\n');
  return first === heading ? lines.map((line) => gridColumns.map((_, i) => line.split('\t')[i] ?? '')) : undefined;
}

/** The sheet as text, which is what is read; nothing where no row says anything. */
export function textOfRows(rows: readonly string[][]): string {
  const said = rows.findLastIndex((row) => row.some((cell) => cell.trim() !== ''));
  return said < 0 ? '' : [heading, ...rows.slice(0, said + 1).map((row) => row.join('\t'))].join('\n');
}

/** One row for each pin of a run; a row that names one pin stays as it is. */
export function spread(row: string[]): string[][] {
  const [, connector = '', from = '', to = ''] = run.exec((row[0] ?? '').trim()) ?? [];
  const [first, last] = [Number(from), Number(to)];
  return !/\p{L}/u.test(connector) || last <= first || last - first >= mostPins
    ? [row]
    : Array.from({ length: last - first + 1 }, (_, i) => [`${connector.trim()}-${first + i}`, ...row.slice(1)]);
}

/** The rows after cells were typed or pasted; rows are told apart by their number from 0. */
export function withChanges(
  rows: readonly string[][],
  changes: readonly Pick<CellChange, 'row' | 'column' | 'text'>[],
): string[][] {
  const next = rows.map((row) => [...row]);
  for (const { row, column, text } of changes) {
    const at = Number(row);
    while (next.length <= at) {
      next.push(gridColumns.map(() => ''));
    }
    const cells = next[at];
    const i = gridColumns.findIndex(([id]) => id === column);
    if (cells && i >= 0) {
      cells[i] = text.replaceAll('\t', ' ').replaceAll('\n', ' ');
    }
  }
  return next.flatMap(spread);
}

export type PlugOrder = 'row' | 'column' | 'zigzag';
export type PlugFace = 'wire' | 'mating';

/**
 * The pins of a plug as one sees them, row by row from the upper left: numbers run along its rows, down its columns, or
 * to and fro. From the mating face left and right are exchanged.
 *
 * @param pins 1 to 200.
 * @param rows 1 to the number of pins.
 */
export function plugLayout(pins: number, rows: number, order: PlugOrder, face: PlugFace): (number | null)[][] {
  const perRow = Math.ceil(pins / rows);
  return Array.from({ length: rows }, (_, r) => {
    const row = Array.from({ length: perRow }, (_, c) => {
      const number =
        order === 'column'
          ? c * rows + r + 1
          : r * perRow + (order === 'zigzag' && r % 2 === 1 ? perRow - 1 - c : c) + 1;
      return number <= pins ? number : null;
    });
    return face === 'mating' ? row.reverse() : row;
  });
}
