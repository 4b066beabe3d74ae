import { useState } from 'react';
import { Link } from 'react-router';
import { type ElementKind, type LayoutColumn, type LayoutRow, type LayoutTables } from '../api/generated';
import { Choose } from '../ui/Choose';
import { elementWords } from './ElementLeaf';
import { keyOf } from './useTables';

export const words: Partial<Record<LayoutColumn, string>> = {
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

export function ElementFields({ row, tables, problems, put, remove }: ElementFieldsProps) {
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
        <Choose
          className="px-1"
          value={shown}
          options={options.map((o) => ({ value: o, words: o || 'not known' }))}
          onChange={put}
          invalid={problem !== undefined}
        />
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
