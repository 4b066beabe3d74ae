import { type ClipboardEvent, type KeyboardEvent, useEffect, useRef, useState } from 'react';
import { CellInput } from './GridCell';
import { blockOf, type CellChange, type Corner, fromClipboard, inside, toClipboard } from './grid';

export interface GridColumn {
  id: string;
  label: string;
  /** Words that are usually written here, offered while typing. */
  choices?: string[] | undefined;
  isFixed?: boolean;
  className?: string;
}

export interface GridRow {
  id: string;
  cells: Record<string, string>;
}

interface GridProps {
  label: string;
  columns: GridColumn[];
  rows: GridRow[];
  /** What is wrong, by row and column id joined with a slash. */
  problems: ReadonlyMap<string, string>;
  onChange: (changes: CellChange[]) => void;
  onUndo: () => void;
  onRedo: () => void;
  onRemove?: (rowIds: string[]) => void;
  /** Makes an id for each row of a pasted block that reaches beyond the last; without it the block ends there. */
  newRow?: () => string;
}

const at = (row: GridRow, column: GridColumn) => `${row.id}/${column.id}`;

/**
 * A table that behaves like one: arrow keys, type to replace, Enter to change, Ctrl D to fill down, blocks copied
 * from and to a spreadsheet, undo and redo.
 */
export function Grid({ label, columns, rows, problems, onChange, onUndo, onRedo, onRemove, newRow }: GridProps) {
  const box = useRef<HTMLTableElement>(null);
  const [cursor, setCursor] = useState<Corner>({ row: 0, column: 0 });
  const [anchor, setAnchor] = useState<Corner>(cursor);
  const [typed, setTyped] = useState<string | null>(null);
  const here: Corner = {
    row: Math.max(0, Math.min(cursor.row, rows.length - 1)),
    column: Math.min(cursor.column, columns.length - 1),
  };
  const block = blockOf(anchor, here);
  const hadFocus = useRef(false);

  useEffect(() => {
    if (hadFocus.current && typed === null) {
      box.current?.querySelector<HTMLElement>('[tabindex="0"]')?.focus({ preventScroll: false });
    }
  }, [here.row, here.column, typed]);

  const textAt = (row: number, column: number): string => {
    const [r, c] = [rows[row], columns[column]];
    return r && c ? (r.cells[c.id] ?? '') : '';
  };

  /** Gives the cells of a block new texts; what does not change and what is fixed is left out. */
  const write = (cells: Iterable<[row: number, column: number, text: string]>) => {
    const changes: CellChange[] = [];
    const made = new Map<number, string>();
    for (const [row, column, text] of cells) {
      const [r, c] = [rows[row], columns[column]];
      if (!r && newRow && c && !c.isFixed && text !== '') {
        made.set(row, made.get(row) ?? newRow());
        changes.push({ row: made.get(row) ?? '', column: c.id, before: '', text });
      }
      if (r && c && !c.isFixed && textAt(row, column) !== text) {
        changes.push({ row: r.id, column: c.id, before: textAt(row, column), text });
      }
    }
    if (changes.length > 0) {
      onChange(changes);
    }
  };

  const moveTo = (row: number, column: number, extend = false) => {
    const next = {
      row: Math.max(0, Math.min(rows.length - 1, row)),
      column: Math.max(0, Math.min(columns.length - 1, column)),
    };
    setCursor(next);
    if (!extend) {
      setAnchor(next);
    }
  };

  const commit = (row: number, column: number) => {
    if (typed !== null) {
      write([[here.row, here.column, typed]]);
      setTyped(null);
    }
    moveTo(row, column);
  };

  const onKey = (event: KeyboardEvent) => {
    const { key } = event;
    const arrows: Record<string, [number, number] | undefined> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
      PageUp: [-12, 0],
      PageDown: [12, 0],
    };
    const arrow = arrows[key];
    if (event.ctrlKey || event.metaKey) {
      const acts: Record<string, (() => void) | undefined> = {
        z: event.shiftKey ? onRedo : onUndo,
        y: onRedo,
        d: () => write(inside(block).map(([r, c]) => [r, c, textAt(block.top, c)])),
        a: () => {
          setAnchor({ row: 0, column: 0 });
          setCursor({ row: rows.length - 1, column: columns.length - 1 });
        },
        home: () => moveTo(0, 0),
        end: () => moveTo(rows.length - 1, columns.length - 1),
      };
      const act = acts[key.toLowerCase()];
      if (act) {
        event.preventDefault();
        act();
      }
    } else if (arrow) {
      event.preventDefault();
      moveTo(here.row + arrow[0], here.column + arrow[1], event.shiftKey);
    } else if (key === 'Enter') {
      event.preventDefault();
      if (!columns[here.column]?.isFixed) {
        setTyped(textAt(here.row, here.column));
      }
    } else if (key === 'Home' || key === 'End') {
      event.preventDefault();
      moveTo(here.row, key === 'Home' ? 0 : columns.length - 1, event.shiftKey);
    } else if (key === 'Delete' && event.shiftKey && onRemove) {
      event.preventDefault();
      onRemove(rows.slice(block.top, block.bottom + 1).map((r) => r.id));
    } else if (key === 'Delete' || key === 'Backspace') {
      event.preventDefault();
      write(inside(block).map(([r, c]) => [r, c, '']));
    } else if (key.length === 1 && !event.altKey && !columns[here.column]?.isFixed) {
      event.preventDefault();
      setTyped(key);
    }
  };

  const onTyping = (event: KeyboardEvent) => {
    const moves: Record<string, [number, number] | undefined> = {
      Enter: [1, 0],
      Tab: [0, event.shiftKey ? -1 : 1],
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
    };
    const move = moves[event.key];
    if (event.key === 'Escape') {
      event.preventDefault();
      setTyped(null);
    } else if (move) {
      event.preventDefault();
      commit(here.row + move[0], here.column + move[1]);
    }
    event.stopPropagation();
  };

  const onCopy = (event: ClipboardEvent) => {
    if (typed !== null) {
      return;
    }
    event.preventDefault();
    const lines: string[][] = [];
    for (let r = block.top; r <= block.bottom; r++) {
      lines.push(columns.slice(block.left, block.right + 1).map((_, c) => textAt(r, block.left + c)));
    }
    event.clipboardData.setData('text/plain', toClipboard(lines));
    if (event.type === 'cut') {
      write(inside(block).map(([r, c]) => [r, c, '']));
    }
  };

  const onPaste = (event: ClipboardEvent) => {
    if (typed !== null) {
      return;
    }
    event.preventDefault();
    const lines = fromClipboard(event.clipboardData.getData('text/plain'));
    const [only] = lines.length === 1 && lines[0]?.length === 1 ? lines[0] : [];
    if (only !== undefined) {
      // One cell fills the whole block.
      write(inside(block).map(([r, c]) => [r, c, only]));
    } else {
      write(
        lines.flatMap((line, r) =>
          line.map((text, c): [number, number, string] => [block.top + r, block.left + c, text]),
        ),
      );
      setAnchor({ row: block.top, column: block.left });
      setCursor({
        row: Math.min(rows.length - 1, block.top + lines.length - 1),
        column: Math.min(columns.length - 1, block.left + Math.max(...lines.map((l) => l.length)) - 1),
      });
    }
  };

  return (
    <table
      ref={box}
      role="grid"
      aria-label={label}
      aria-multiselectable="true"
      className="w-full border-collapse text-[14px]"
      onCopy={onCopy}
      onCut={onCopy}
      onPaste={onPaste}
      onFocus={() => (hadFocus.current = true)}
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) {
          hadFocus.current = false;
        }
      }}
    >
      <thead className="sticky top-0 z-10 bg-sheet">
        <tr className="text-left text-ink-2">
          {columns.map((column) => (
            <th
              key={column.id}
              scope="col"
              className={`border-b border-rule-2 px-2 py-1 font-medium ${column.className?.includes('text-right') ? 'text-right' : ''}`}
            >
              {column.label}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row, r) => (
          <tr key={row.id} className="border-b border-rule">
            {columns.map((column, c) => {
              const isHere = r === here.row && c === here.column;
              const isIn = r >= block.top && r <= block.bottom && c >= block.left && c <= block.right;
              const problem = problems.get(at(row, column));
              return (
                <td
                  key={column.id}
                  tabIndex={isHere ? 0 : -1}
                  aria-selected={isIn}
                  aria-readonly={column.isFixed ?? false}
                  aria-invalid={problem !== undefined}
                  title={problem}
                  className={`h-[31px] cursor-cell px-2 max-[899px]:h-[44px] ${column.className ?? ''} ${
                    problem ? 'bg-out-wash text-out' : isIn ? 'bg-rust-wash' : ''
                  } ${column.isFixed ? 'text-ink-2' : ''}`}
                  onKeyDown={typed === null ? onKey : undefined}
                  onMouseDown={(event) => {
                    hadFocus.current = true;
                    if (!(isHere && typed !== null)) {
                      commitAnd(() => moveTo(r, c, event.shiftKey));
                    }
                  }}
                  onDoubleClick={() => !column.isFixed && setTyped(textAt(r, c))}
                >
                  {isHere && typed !== null ? (
                    <CellInput
                      label={`${column.label}, row ${r + 1}`}
                      typed={typed}
                      setTyped={setTyped}
                      choices={column.choices}
                      onKeyDown={onTyping}
                      onLeave={() => commitAnd(() => undefined)}
                    />
                  ) : (
                    textAt(r, c)
                  )}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );

  function commitAnd(then: () => void) {
    if (typed !== null) {
      write([[here.row, here.column, typed]]);
      setTyped(null);
    }
    then();
  }
}
