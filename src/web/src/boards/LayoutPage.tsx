import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type KeyboardEvent, useState } from 'react';
import { Link, useParams } from 'react-router';
import {
  getDrawing,
  getTables,
  type LayoutColumn,
  type LayoutEdit,
  type LayoutRow,
  type LayoutTables,
} from '../api/generated';
import { ask } from '../api/ledger';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { OpeningPage } from '../ui/OpeningPage';
import { Problem } from '../ui/Problem';
import { ElementFields } from './ElementFields';
import { FacingKeys } from './FacingKeys';
import { Adder, Size } from './LayoutAdder';
import { Board, onComponentSide, sides } from './LayoutBoard';
import { called } from './called';
import type { Facing } from './facing';
import { useTables } from './useTables';
import { TablesReach } from './Reaches';

/** A board type laid out: elements placed by dragging, by arrow keys or by number; every machine that has it gets them. */
export function LayoutPage() {
  const { boardTypeId = '' } = useParams();
  const tables = useQuery({
    queryKey: ['tables', boardTypeId],
    queryFn: () => ask(getTables({ path: { boardTypeId } })),
    staleTime: 5000,
  });
  if (!tables.data) {
    return <OpeningPage title="Layout" words="Laying out the board…" of={[tables]} />;
  }
  return <Layout key={boardTypeId} tables={tables.data} />;
}

function Layout({ tables }: { tables: LayoutTables }) {
  const queries = useQueryClient();
  const { rows: all, change, undo, redo, isRefused, problems, error, isKeeping, steps } = useTables(tables);
  const [facing, setFacing] = useState<Facing>({ turns: 0, side: 'component' });
  const drawing = useQuery({
    queryKey: ['drawing', tables.boardTypeId, facing.turns, facing.side, tables],
    queryFn: () => ask(getDrawing({ path: { boardTypeId: tables.boardTypeId }, query: { ...facing } })),
    placeholderData: (was) => was,
  });
  const [chosen, setChosen] = useState<string | null>(null);
  const rows = all.filter((r) => r.kind === 'element');
  const row = rows.find((r) => r.id === chosen);
  const set = (of: LayoutRow, column: LayoutColumn, text: string): LayoutEdit => ({
    kind: 'set',
    row: 'element',
    parent: '',
    id: of.id,
    column,
    before: of.cells[column] ?? '',
    text,
  });
  const place = (of: LayoutRow, x: number, y: number) =>
    change(
      (
        [
          ['x', x],
          ['y', y],
        ] as const
      ).map(([column, value]) => set(of, column, `${Math.round(Math.max(0, value) * 10) / 10}`)),
    );
  const move = (of: LayoutRow, right: number, down: number) => {
    const [x, y] = onComponentSide(facing, right, down);
    const [atX, atY] = [Number(of.cells.x) + x, Number(of.cells.y) + y];
    // A place that was refused is mended in its field first.
    if (Number.isFinite(atX) && Number.isFinite(atY)) {
      place(of, atX, atY);
    }
  };
  const remove = (of: LayoutRow) => {
    const pins = all.filter((r) => r.kind === 'pin' && r.parent === of.id);
    change(
      [...pins, of].map((r): LayoutEdit => ({
        kind: 'remove',
        row: r.kind,
        parent: r.parent,
        id: r.id,
        column: null,
        before: '',
        text: '',
        cells: r.cells,
      })),
    );
    setChosen(null);
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.target instanceof HTMLInputElement || event.target instanceof HTMLSelectElement) {
      return;
    }
    if (event.ctrlKey && ['z', 'y'].includes(event.key.toLowerCase())) {
      event.preventDefault();
      (event.key.toLowerCase() === 'z' ? undo : redo)();
      return;
    }
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (by && row) {
      event.preventDefault();
      const size = event.shiftKey ? 5 : event.altKey ? 0.1 : 0.5;
      move(row, (by[0] ?? 0) * size, (by[1] ?? 0) * size);
    } else if (event.key === 'Delete' && event.shiftKey && row) {
      event.preventDefault();
      remove(row);
    }
  };
  return (
    // The keys move what is chosen wherever one is on the page; the fields at the side do the same.
    // oxlint-disable-next-line jsx-a11y/no-static-element-interactions
    <div onKeyDown={onKey}>
      <Frame
        title={`Layout of ${called(tables)}`}
        place={tables.name}
        leafName="What is chosen"
        leaf={
          row ? (
            <ElementFields
              key={`${row.id}${row.cells.kind ?? ''}`}
              row={row}
              tables={tables}
              problems={problems}
              put={(column, text) => change([set(row, column, text)])}
              remove={() => remove(row)}
            />
          ) : (
            <>
              <p className="text-ink-2">Choose something on the board, or add it here.</p>
              <Adder
                add={(edits, id) => {
                  change(edits);
                  setChosen(id);
                }}
              />
              <Size tables={tables} fresh={() => void queries.invalidateQueries()} />
            </>
          )
        }
      >
        <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule-2 pb-2">
          <h2 className="title grow max-[1279px]:w-full">{drawing.data?.facingWords ?? 'Layout'}</h2>
          <FacingKeys
            facing={facing}
            face={setFacing}
            turn={() => setFacing({ ...facing, turns: (facing.turns + 1) % 4 })}
            otherSide={() =>
              setFacing({ ...facing, side: sides[(sides.indexOf(facing.side) + 1) % sides.length] ?? 'component' })
            }
          />
        </div>
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1 pt-2 text-[14px]">
          <button type="button" className="quiet px-2" disabled={steps.undo === 0 && !isRefused} onClick={undo}>
            Undo <Key>Ctrl Z</Key>
          </button>
          <button type="button" className="quiet px-2" disabled={steps.redo === 0} onClick={redo}>
            Redo <Key>Ctrl Y</Key>
          </button>
          <span role="status" className="grow text-ink-2">
            {isKeeping ? 'keeping…' : isRefused ? 'not kept' : 'kept'}
          </span>
          <Link
            className="link inline-flex min-h-[32px] items-center max-[899px]:min-h-[44px]"
            to={`/board-types/${tables.boardTypeId}?table=element`}
          >
            In tables
          </Link>
        </div>
        <TablesReach tables={tables} />
        <Problem error={error ?? drawing.error} />
        {[...problems].map(([key, message]) => (
          <p key={key} role="alert" className="border-l-4 border-out bg-out-wash px-3 py-1 text-[14px]">
            {message}
          </p>
        ))}
        {drawing.data && (
          <Board
            drawing={drawing.data}
            chosen={chosen}
            choose={setChosen}
            drop={(id, right, down) => {
              const of = rows.find((r) => r.id === id);
              if (of) {
                move(of, right, down);
              }
            }}
          />
        )}
        <p className="mt-2 flex flex-wrap gap-x-5 text-[14px] text-ink-2">
          <span>
            Drag, or arrow keys: 0.5 mm, with <Key>Shift</Key> 5, with <Key>Alt</Key> 0.1. Edges catch each other.{' '}
            <Key>Shift Delete</Key> takes away.
          </span>
        </p>
      </Frame>
    </div>
  );
}
