/** A cell's change: what stood there and what was typed. */
export interface CellChange {
  row: string;
  column: string;
  before: string;
  text: string;
}

/** A block of cells by row and column numbers, edges included. */
export interface Block {
  top: number;
  left: number;
  bottom: number;
  right: number;
}

export interface Corner {
  row: number;
  column: number;
}

export const blockOf = (one: Corner, other: Corner): Block => ({
  top: Math.min(one.row, other.row),
  bottom: Math.max(one.row, other.row),
  left: Math.min(one.column, other.column),
  right: Math.max(one.column, other.column),
});

/** Text as spreadsheets put it on the clipboard: tabs between cells, a line a row, quotes around what holds either. */
export function toClipboard(cells: string[][]): string {
  return cells
    .map((row) => row.map((cell) => (/["\t\n\r]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell)).join('\t'))
    .join('\r\n');
}

/** The reverse of {@link toClipboard}; also takes what any spreadsheet copies. */
export function fromClipboard(text: string): string[][] {
  const rows: string[][] = [];
  let row: string[] = [];
  let cell = '';
  let isQuoted = false;
  for (let i = 0; i < text.length; i++) {
    const sign = text[i] ?? '';
    if (isQuoted) {
      if (sign === '"' && text[i + 1] === '"') {
        cell += '"';
        i++;
      } else if (sign === '"') {
        isQuoted = false;
      } else {
        cell += sign;
      }
    } else if (sign === '"' && cell === '') {
      isQuoted = true;
    } else if (sign === '\t') {
      row.push(cell);
      cell = '';
    } else if (sign === '\n' || sign === '\r') {
      i += sign === '\r' && text[i + 1] === '\n' ? 1 : 0;
      rows.push([...row, cell]);
      row = [];
      cell = '';
    } else {
      cell += sign;
    }
  }
  return cell !== '' || row.length > 0 ? [...rows, [...row, cell]] : rows;
}

/** What takes a step back: each cell gets what stood there, in the reverse order. */
export const reversed = (changes: CellChange[]): CellChange[] =>
  changes.map((c) => ({ ...c, before: c.text, text: c.before })).reverse();

/** The cells of a block, row by row. */
export function inside(block: Block): [number, number][] {
  const cells: [number, number][] = [];
  for (let r = block.top; r <= block.bottom; r++) {
    for (let c = block.left; c <= block.right; c++) {
      cells.push([r, c]);
    }
  }
  return cells;
}
