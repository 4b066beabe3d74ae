import { type KeyboardEvent, useRef, useState } from 'react';

const steps: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

/** The cells of a table that are pressed: one of them is reached by Tab, the others from it by the arrows. */
export function useCells() {
  const table = useRef<HTMLTableElement>(null);
  const [at, setAt] = useState<[number, number]>([0, 0]);
  const move = (event: KeyboardEvent) => {
    const step = steps[event.key];
    if (!step) {
      return;
    }
    const to: [number, number] = [at[0] + step[0], at[1] + step[1]];
    const cell = table.current?.querySelector<HTMLElement>(`[data-cell="${to[0]} ${to[1]}"]`);
    if (cell) {
      event.preventDefault();
      setAt(to);
      cell.focus();
    }
  };
  const cell = (row: number, column: number) => ({
    'data-cell': `${row} ${column}`,
    tabIndex: at[0] === row && at[1] === column ? 0 : -1,
    onFocus: () => setAt([row, column]),
    onKeyDown: move,
  });
  return { table, cell };
}
