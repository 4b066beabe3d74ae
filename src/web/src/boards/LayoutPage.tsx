import { called } from './called';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import {
  getDrawing,
  getTables,
  resizeBoard,
  type BoardDrawing,
  type ElementKind,
  type ElementOnMap,
  type LayoutColumn,
  type LayoutEdit,
  type LayoutRow,
  type LayoutTables,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { Problem } from '../ui/Problem';
import { ElementShape } from './ElementShape';
import { elementWords } from './ElementLeaf';
import { type Facing } from './facing';
import { FacingKeys } from './FacingKeys';
import { keyOf, useTables } from './useTables';

/** A board type laid out: elements placed by dragging, by arrow keys or by number; every machine that has it gets them. */
export function LayoutPage() {
  const { boardTypeId = '' } = useParams();
  const tables = useQuery({
    queryKey: ['tables', boardTypeId],
    queryFn: () => ask(getTables({ path: { boardTypeId } })),
    staleTime: 5000,
  });
  if (!tables.data) {
    return (
      <Frame title="Layout">
        {tables.isPending ? (
          <p className="py-6 text-ink-2">Laying out the board…</p>
        ) : (
          <Problem error={tables.error} retry={() => void tables.refetch()} />
        )}
      </Frame>
    );
  }
  return <Layout key={boardTypeId} tables={tables.data} />;
}

const sides = ['component', 'solder', 'wire', 'mating'] as const;

/** A step of the hand on the board as faced, back to the component side. */
function onComponentSide({ turns, side }: Facing, right: number, down: number): [number, number] {
  const [x, y] = (
    [
      [right, down],
      [down, -right],
      [-right, -down],
      [-down, right],
    ] as [number, number][]
  )[turns] ?? [right, down];
  return [side === 'solder' || side === 'mating' ? -x : x, y];
}

function Layout({ tables }: { tables: LayoutTables }) {
  const queries = useQueryClient();
  const { change, undo, redo, isRefused, problems, error, isKeeping, steps } = useTables(tables.boardTypeId);
  const [facing, setFacing] = useState<Facing>({ turns: 0, side: 'component' });
  const drawing = useQuery({
    queryKey: ['drawing', tables.boardTypeId, facing.turns, facing.side, tables],
    queryFn: () => ask(getDrawing({ path: { boardTypeId: tables.boardTypeId }, query: { ...facing } })),
    placeholderData: (was) => was,
  });
  const [chosen, setChosen] = useState<string | null>(null);
  const rows = tables.rows.filter((r) => r.kind === 'element');
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
    place(of, Number(of.cells.x) + x, Number(of.cells.y) + y);
  };
  const remove = (of: LayoutRow) => {
    const pins = tables.rows.filter((r) => r.kind === 'pin' && r.parent === of.id);
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
    // eslint-disable-next-line jsx-a11y/no-static-element-interactions
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

const catches = 1;
const halfMm = (value: number) => Math.round(value * 2) / 2;

/** The nearest step at which an edge or middle falls on one of another element; else the nearest half millimetre. */
function snapped(own: [number, number, number], others: number[], step: number): { step: number; at: number | null } {
  let best = { off: catches, step: halfMm(step), at: null as number | null };
  for (const mine of own) {
    for (const theirs of others) {
      const off = Math.abs(mine + step - theirs);
      if (off < best.off) {
        best = { off, step: theirs - mine, at: theirs };
      }
    }
  }
  return best;
}

interface BoardProps {
  drawing: BoardDrawing;
  chosen: string | null;
  choose: (id: string | null) => void;
  drop: (id: string, right: number, down: number) => void;
}

const edge = 4;

function Board({ drawing, chosen, choose, drop }: BoardProps) {
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ id: string; fromX: number; fromY: number; right: number; down: number } | null>(
    null,
  );
  const letter = drawing.width / 45;
  const radiusOf = (e: ElementOnMap) => Math.min(letter * 0.45, e.pitchMm * 0.36);
  const at = (event: PointerEvent) => {
    const matrix = svg.current?.getScreenCTM();
    return new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix?.inverse());
  };
  const lines = (of: ElementOnMap): [[number, number, number], [number, number, number]] => [
    [of.x, of.x + of.width / 2, of.x + of.width],
    [of.y, of.y + of.height / 2, of.y + of.height],
  ];
  const dragged = drag && drawing.elements.find((e) => e.id === drag.id);
  const others = drawing.elements.filter((e) => e.id !== drag?.id).map(lines);
  const right =
    drag && dragged
      ? snapped(
          lines(dragged)[0],
          others.flatMap(([x]) => x),
          drag.right,
        )
      : { step: 0, at: null };
  const down =
    drag && dragged
      ? snapped(
          lines(dragged)[1],
          others.flatMap(([, y]) => y),
          drag.down,
        )
      : { step: 0, at: null };
  const isMoved = drag !== null && Math.hypot(drag.right, drag.down) > 0.4;
  return (
    <svg
      ref={svg}
      viewBox={`${-edge} ${-edge} ${drawing.width + 2 * edge} ${drawing.height + 2 * edge}`}
      className="mt-2 max-h-[calc(100dvh-230px)] w-full touch-none"
      role="group"
      aria-label={`The board, ${drawing.facingWords}`}
      data-testid="layout"
      onPointerMove={(event) => {
        if (drag) {
          const now = at(event);
          setDrag({ ...drag, right: now.x - drag.fromX, down: now.y - drag.fromY });
        }
      }}
      onPointerUp={() => {
        if (drag && isMoved) {
          drop(drag.id, right.step, down.step);
        }
        setDrag(null);
      }}
      onPointerLeave={() => setDrag(null)}
    >
      <rect
        width={drawing.width}
        height={drawing.height}
        className="fill-sheet stroke-ink"
        strokeWidth={letter / 6}
        onPointerDown={() => choose(null)}
      />
      {drawing.elements.map((e) => (
        <g
          key={e.id}
          role="button"
          tabIndex={0}
          aria-pressed={e.id === chosen}
          aria-label={[e.designator, elementWords[e.kind], e.purpose].filter(Boolean).join(', ')}
          className="cursor-move"
          transform={e.id === drag?.id && isMoved ? `translate(${right.step} ${down.step})` : undefined}
          onFocus={() => choose(e.id)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' || event.key === ' ') {
              event.preventDefault();
              choose(e.id);
            }
          }}
          onPointerDown={(event) => {
            const from = at(event);
            choose(e.id);
            setDrag({ id: e.id, fromX: from.x, fromY: from.y, right: 0, down: 0 });
          }}
        >
          <ElementShape element={e} line={letter / 9} chosen={e.id === chosen} />
          <text
            x={e.x}
            y={e.y < letter * 1.6 ? e.y + e.height + letter : e.y - letter / 3}
            fontSize={letter}
            className="fill-ink font-bold"
          >
            {e.designator}
          </text>
          {drawing.pins
            .filter((p) => p.elementId === e.id)
            .map((p) =>
              p.isFirst ? (
                <rect
                  key={p.id}
                  x={p.x - radiusOf(e)}
                  y={p.y - radiusOf(e)}
                  width={2 * radiusOf(e)}
                  height={2 * radiusOf(e)}
                  className="fill-paper stroke-ink-2"
                  strokeWidth={letter / 9}
                />
              ) : (
                <circle
                  key={p.id}
                  cx={p.x}
                  cy={p.y}
                  r={radiusOf(e)}
                  className="fill-paper stroke-ink-2"
                  strokeWidth={letter / 9}
                />
              ),
            )}
        </g>
      ))}
      {isMoved && right.at !== null && (
        <path d={`M${right.at},0 V${drawing.height}`} className="stroke-rust" strokeWidth={letter / 10} />
      )}
      {isMoved && down.at !== null && (
        <path d={`M0,${down.at} H${drawing.width}`} className="stroke-rust" strokeWidth={letter / 10} />
      )}
    </svg>
  );
}

const words: Partial<Record<LayoutColumn, string>> = {
  designator: 'Designator',
  kind: 'Kind',
  purpose: 'What it is for',
  rating: 'Rating or value',
  x: 'x, mm',
  y: 'y, mm',
  rows: 'Rows',
  pitch: 'Pitch or size, mm',
  direction: 'Rows run',
  pin1: 'Pin 1',
  numbering: 'Counted',
  colour: 'Colour',
  steady: 'Steady means',
  blinking: 'Blinking means',
  off: 'Off means',
  proves: 'Lit, it proves',
  provesNot: 'It does not prove',
  positions: 'Positions, such as 1-2: slow; 2-3: fast',
  onToward: 'Switches are on when slid',
  latch: 'Side of the latch',
  keySide: 'Side of the key',
  sets: 'What it sets',
  raises: 'Raised by turning',
  turns: 'Turns from end to end',
  switches: 'What it switches',
  coil: 'Coil pins',
  contacts: 'Contact pins',
  fuseType: 'Fuse type',
  feeds: 'What it feeds',
  blownHint: 'Blown, it hints at',
  otherEnd: 'Where it goes, such as D-J1',
};

const choices: Partial<Record<LayoutColumn, string[]>> = {
  kind: [
    'connector',
    'fuse',
    'indicator',
    'jumper',
    'switch bank',
    'trimmer',
    'relay',
    'test point',
    'component',
    'board cable',
  ],
  direction: ['across', 'down'],
  pin1: ['top left', 'top right', 'bottom left', 'bottom right'],
  numbering: ['row by row', 'zigzag'],
  onToward: ['up', 'right', 'down', 'left'],
  latch: ['', 'up', 'right', 'down', 'left'],
  keySide: ['', 'up', 'right', 'down', 'left'],
  raises: ['', 'clockwise', 'anticlockwise'],
};

interface ElementFieldsProps {
  row: LayoutRow;
  tables: LayoutTables;
  problems: ReadonlyMap<string, string>;
  put: (column: LayoutColumn, text: string) => void;
  remove: () => void;
}

function ElementFields({ row, tables, problems, put, remove }: ElementFieldsProps) {
  const kind = (Object.entries(elementWords) as [ElementKind, string][]).find(
    ([k]) => k.toLowerCase() === (row.cells.kind ?? '').replace(/ /g, '').toLowerCase(),
  )?.[0];
  const pins = tables.rows.filter((r) => r.kind === 'pin' && r.parent === row.id);
  const columns: LayoutColumn[] = [
    'designator',
    'kind',
    'purpose',
    'rating',
    'x',
    'y',
    ...((pins.length > 0 ? ['rows', 'pitch', 'direction', 'pin1', 'numbering'] : ['pitch']) as LayoutColumn[]),
    ...(kind ? (tables.details[kind] ?? []) : []),
  ];
  const narrow = new Set<LayoutColumn>([
    'x',
    'y',
    'rows',
    'pitch',
    'direction',
    'pin1',
    'numbering',
    'designator',
    'kind',
  ]);
  return (
    <section aria-label="Element">
      <h2 className="font-mono text-[24px]">{row.cells.designator}</h2>
      <div className="grid grid-cols-2 gap-x-3 text-[14px]">
        {columns.map((column) => (
          <CellField
            key={column}
            column={column}
            text={row.cells[column] ?? ''}
            wide={!narrow.has(column)}
            problem={problems.get(
              keyOf({ kind: 'set', row: 'element', parent: '', id: row.id, column, before: '', text: '' }),
            )}
            put={(text) => put(column, text)}
          />
        ))}
      </div>
      <p className="mt-3 flex items-center gap-4 text-[14px]">
        <Link
          className="link inline-flex min-h-[36px] items-center max-[899px]:min-h-[44px]"
          to={`/board-types/${tables.boardTypeId}?table=pin`}
        >
          {pins.length === 1 ? '1 pin' : `${pins.length} pins`}
        </Link>
        <button type="button" className="quiet" onClick={remove}>
          Take it off the board
        </button>
      </p>
    </section>
  );
}

interface CellFieldProps {
  column: LayoutColumn;
  text: string;
  wide: boolean;
  problem: string | undefined;
  put: (text: string) => void;
}

function CellField({ column, text, wide, problem, put }: CellFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const options = choices[column];
  const shown = typed ?? text;
  const done = () => {
    if (typed !== null && typed !== text) {
      put(typed);
    }
    setTyped(null);
  };
  return (
    <label className={`mt-1.5 block ${wide ? 'col-span-2' : ''}`}>
      <span className="text-ink-2">{words[column]}</span>
      {options ? (
        <select
          className="field px-1"
          value={shown}
          onChange={(event) => put(event.target.value)}
          aria-invalid={problem !== undefined}
        >
          {options.map((o) => (
            <option key={o} value={o}>
              {o || 'not known'}
            </option>
          ))}
        </select>
      ) : (
        <input
          className={`field px-2 ${wide ? '' : 'font-mono'}`}
          value={shown}
          aria-invalid={problem !== undefined}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={done}
          onKeyDown={(event) => {
            if (event.key === 'Enter') {
              done();
            }
          }}
        />
      )}
      {problem && <span className="text-out">{problem}</span>}
    </label>
  );
}

/** A new element with its footprint from pins, rows and pitch. */
function Adder({ add }: { add: (edits: LayoutEdit[], id: string) => void }) {
  const [kind, setKind] = useState<ElementKind>('connector');
  const [pins, setPins] = useState('4');
  const [rows, setRows] = useState('1');
  const [pitch, setPitch] = useState('5.08');
  const bare = kind === 'indicator' || kind === 'trimmer';
  return (
    <form
      className="mt-3 border-t border-rule-2 pt-2 text-[14px]"
      aria-label="Add to the board"
      onSubmit={(event) => {
        event.preventDefault();
        const id = newId();
        const edit = (row: 'element' | 'pin', what: Partial<LayoutEdit>): LayoutEdit => ({
          kind: 'add',
          row,
          parent: '',
          id,
          column: null,
          before: '',
          text: '',
          ...what,
        });
        const count = bare ? 0 : Math.min(200, Math.max(0, Number(pins) || 0));
        add(
          [
            edit('element', {
              cells: {
                kind: elementWords[kind] === 'board-to-board cable' ? 'board cable' : elementWords[kind],
                rows,
                pitch,
              },
            }),
            ...Array.from({ length: count }, () => edit('pin', { parent: id, id: newId() })),
          ],
          id,
        );
      }}
    >
      <h3>Add to the board</h3>
      <label className="mt-1 block">
        Kind
        <select className="field mt-0.5" value={kind} onChange={(event) => setKind(event.target.value as ElementKind)}>
          {Object.entries(elementWords).map(([k, w]) => (
            <option key={k} value={k}>
              {w}
            </option>
          ))}
        </select>
      </label>
      <div className="mt-1 grid grid-cols-3 gap-2">
        {(
          [
            ['Pins', pins, setPins],
            ['Rows', rows, setRows],
            [bare ? 'Size, mm' : 'Pitch, mm', pitch, setPitch],
          ] as const
        )
          .filter(([name]) => !bare || name === 'Size, mm')
          .map(([name, value, put]) => (
            <label key={name}>
              {name}
              <input
                className="field mt-0.5 font-mono"
                inputMode="decimal"
                value={value}
                onChange={(event) => put(event.target.value)}
              />
            </label>
          ))}
      </div>
      <button type="submit" className="quiet mt-2">
        Add it
      </button>
    </form>
  );
}

function Size({ tables, fresh }: { tables: LayoutTables; fresh: () => void }) {
  const [width, setWidth] = useState(tables.isSizeGuess ? '' : `${tables.widthMm}`);
  const [height, setHeight] = useState(tables.isSizeGuess ? '' : `${tables.heightMm}`);
  const [revision, setRevision] = useState('');
  const [error, setError] = useState<Error | null>(null);
  return (
    <form
      className="mt-4 border-t border-rule-2 pt-2 text-[14px]"
      aria-label="Size of the board"
      onSubmit={(event) => {
        event.preventDefault();
        ask(
          resizeBoard({
            path: { boardTypeId: tables.boardTypeId },
            body: {
              version: tables.version,
              widthMm: Number(width.replace(',', '.')) || 0,
              heightMm: Number(height.replace(',', '.')) || 0,
              revision: revision.trim() || null,
            },
          }),
        )
          .then(() => {
            setError(null);
            fresh();
          })
          .catch((failure: unknown) => setError(failure as Error));
      }}
    >
      <h3>Size of the board</h3>
      {tables.isSizeGuess && <p className="text-ink-2">Not measured yet: the sheet you draw on is a guess.</p>}
      <div className="mt-1 flex items-end gap-2">
        <label>
          Width, mm
          <input className="field mt-0.5 font-mono" value={width} onChange={(event) => setWidth(event.target.value)} />
        </label>
        <label>
          Height, mm
          <input
            className="field mt-0.5 font-mono"
            value={height}
            onChange={(event) => setHeight(event.target.value)}
          />
        </label>
        {!tables.revision && (
          <label>
            Revision
            <input
              className="field mt-0.5 w-[7ch] font-mono"
              value={revision}
              onChange={(event) => setRevision(event.target.value)}
            />
          </label>
        )}
        <button type="submit" className="quiet">
          Keep
        </button>
      </div>
      <Problem error={error} />
    </form>
  );
}
