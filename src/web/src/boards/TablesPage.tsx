import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import {
  addRevision,
  getTables,
  type LayoutColumn,
  type LayoutEdit,
  type LayoutRow,
  type LayoutRowKind,
  type LayoutTables,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { CodeList } from '../codes/CodeList';
import { History } from '../history/History';
import { Frame } from '../ui/Frame';
import { Grid, type GridColumn } from '../ui/Grid';
import { Key } from '../ui/Key';
import { OpeningPage } from '../ui/OpeningPage';
import { Problem } from '../ui/Problem';
import { Tabs } from '../ui/Tabs';
import { elementWords } from './ElementLeaf';
import { Marks } from './Marks';
import { TablesReach } from './Reaches';
import { Adder } from './TableAdder';
import { called } from './called';
import { keyOfRow, useTables } from './useTables';

const columnsOf: Record<LayoutRowKind, GridColumn[]> = {
  pin: [
    { id: 'connector', label: 'Connector', isFixed: true, className: 'w-[96px] font-mono' },
    { id: 'place', label: 'Place', className: 'w-[64px] text-right font-mono' },
    { id: 'label', label: 'Pin', className: 'w-[90px] font-mono font-bold' },
    { id: 'colours', label: 'Wire', className: 'w-[120px] font-mono' },
    { id: 'signal', label: 'What it does' },
    { id: 'source', label: 'Source', className: 'w-[80px]', choices: ['yes'] },
  ],
  element: [
    { id: 'designator', label: 'Element', className: 'font-mono font-bold' },
    { id: 'kind', label: 'Kind', choices: Object.values(elementWords).map((w) => w.replace(/-to-board/, '')) },
    { id: 'purpose', label: 'What it is for', className: 'w-[28%]' },
    { id: 'rating', label: 'Rating', className: 'font-mono' },
    { id: 'x', label: 'x, mm', className: 'font-mono text-right' },
    { id: 'y', label: 'y, mm', className: 'font-mono text-right' },
    { id: 'rows', label: 'Rows', className: 'font-mono text-right' },
    { id: 'pitch', label: 'Pitch, mm', className: 'font-mono text-right' },
    { id: 'direction', label: 'Runs', choices: ['across', 'down'] },
    { id: 'pin1', label: 'Pin 1', choices: ['top left', 'top right', 'bottom left', 'bottom right'] },
    { id: 'numbering', label: 'Counted', choices: ['row by row', 'zigzag'] },
  ],
  check: [
    { id: 'target', label: 'Aimed at', choices: ['pin and common', 'pair', 'part', 'nothing'] },
    { id: 'red', label: 'Pin', className: 'font-mono font-bold' },
    { id: 'black', label: 'Common', className: 'font-mono' },
    { id: 'mode', label: 'Meter', choices: ['DC volts', 'AC volts', 'ohms', 'continuity', 'diode drop'] },
    { id: 'state', label: 'State' },
    { id: 'plugged', label: 'Plugged', choices: ['plugged', 'unplugged'] },
    { id: 'limit', label: 'Should read', className: 'font-mono font-bold' },
    { id: 'remark', label: 'Remark', className: 'w-[26%]' },
  ],
};

const kinds: [LayoutRowKind, string][] = [
  ['pin', 'Terminals'],
  ['element', 'Layout'],
  ['check', 'Checks'],
];

/** A board type in tables: terminals, layout, checks; every machine that has it gets what is written here. */
export function TablesPage() {
  const { boardTypeId = '' } = useParams();
  const tables = useQuery({
    queryKey: ['tables', boardTypeId],
    queryFn: () => ask(getTables({ path: { boardTypeId } })),
    staleTime: 5000,
  });
  if (!tables.data) {
    return <OpeningPage title="Board type" words="Laying out the tables…" of={[tables]} />;
  }
  return <Tables key={boardTypeId} tables={tables.data} />;
}

function Tables({ tables }: { tables: LayoutTables }) {
  const [params, setParams] = useSearchParams();
  const kind = (params.get('table') ?? 'pin') as LayoutRowKind;
  const { rows: all, change, undo, redo, isRefused, problems, error, isKeeping, steps } = useTables(tables);
  const designators = new Map(all.filter((r) => r.kind === 'element').map((r) => [r.id, r.cells.designator]));
  const rows = all.filter((r) => r.kind === kind);
  const byKey = new Map(rows.map((r) => [keyOfRow({ ...r, row: kind }), r]));
  const ofKey = (row: string): Pick<LayoutEdit, 'row' | 'parent' | 'id'> => {
    const found = byKey.get(row);
    return { row: kind, parent: found?.parent ?? '', id: found?.id ?? '' };
  };
  return (
    <Frame
      title={`${called(tables)}, ${tables.name}`}
      place={tables.machines.length > 0 ? `in ${tables.machines.join(', ')}` : 'fitted nowhere'}
    >
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-rule-2 pb-1">
        <Tabs
          className="grow"
          name="Table"
          value={kind}
          tabs={kinds.map(([k, words]) => [
            k,
            <>
              {words} <span className="font-mono">{tables.rows.filter((r) => r.kind === k).length}</span>
            </>,
          ])}
          onChange={(k) => setParams({ table: k }, { replace: true })}
        />
        <span role="status" className="text-[14px] text-ink-2">
          {isKeeping ? 'keeping…' : isRefused ? 'not kept: mend the marked cells' : 'kept'}
        </span>
        <button type="button" className="quiet" disabled={steps.undo === 0 && !isRefused} onClick={undo}>
          Undo <Key>Ctrl Z</Key>
        </button>
        <button type="button" className="quiet" disabled={steps.redo === 0} onClick={redo}>
          Redo <Key>Ctrl Y</Key>
        </button>
      </div>
      <TablesReach tables={tables} />
      <Adder kind={kind} tables={tables} add={change} />
      <Problem error={error} />
      {[...problems].map(([key, message]) => (
        <p key={key} role="alert" className="border-l-4 border-out bg-out-wash px-3 py-1 text-[14px]">
          {message}
        </p>
      ))}
      {rows.length === 0 ? (
        <p className="py-3 text-ink-2">Nothing here yet; add a row, or take the terminals in from a spreadsheet.</p>
      ) : (
        <div className="max-h-[calc(100dvh-230px)] overflow-auto">
          <Grid
            key={kind}
            label={kinds.find(([k]) => k === kind)?.[1] ?? ''}
            columns={columnsOf[kind].map((c) =>
              c.id === 'state' ? { ...c, choices: tables.states.map((s) => s.name) } : c,
            )}
            rows={rows.map((r) => ({
              id: keyOfRow({ ...r, row: kind }),
              cells: { ...r.cells, ...(r.kind === 'pin' ? { connector: designators.get(r.parent) ?? '' } : {}) },
            }))}
            problems={problems}
            onChange={(changes) =>
              change(
                changes.map((c) => ({
                  kind: 'set',
                  ...ofKey(c.row),
                  column: c.column as LayoutColumn,
                  before: c.before,
                  text: c.text,
                })),
              )
            }
            onUndo={undo}
            onRedo={redo}
            onRemove={(ids) => change(ids.flatMap((id) => removal(byKey.get(id), all)))}
          />
        </div>
      )}
      <p className="mt-2 text-[14px] text-ink-2">
        Type to replace, <Key>Enter</Key> to change, <Key>Ctrl D</Key> fills a block down, blocks copy to and from a
        spreadsheet, <Key>Shift Delete</Key> takes rows away.
      </p>
      <CodeList boardTypeId={tables.boardTypeId} />
      <Marks boardTypeId={tables.boardTypeId} />
      <Revisions tables={tables} />
      <History kind="BoardType" recordId={tables.boardTypeId} within />
    </Frame>
  );
}

/** A row taken away, with what its cells held, so that the step can be taken back. */
function removal(row: LayoutRow | undefined, all: LayoutRow[]): LayoutEdit[] {
  if (!row) {
    return [];
  }
  const pins = row.kind === 'element' ? all.filter((r) => r.kind === 'pin' && r.parent === row.id) : [];
  return [
    ...pins.flatMap((pin) => removal(pin, all)),
    {
      kind: 'remove',
      row: row.kind,
      parent: row.parent,
      id: row.id,
      column: null,
      before: '',
      text: '',
      cells: row.cells,
    },
  ];
}

/** The other revisions: compared with this one, or a new one begun as its copy. */
function Revisions({ tables }: { tables: LayoutTables }) {
  const [params] = useSearchParams();
  const go = useNavigate();
  const queries = useQueryClient();
  const [revision, setRevision] = useState('');
  const [machineId, positionId] = [params.get('machine'), params.get('position')];
  const add = useMutation({
    mutationFn: () =>
      ask(
        addRevision({
          path: { boardTypeId: tables.boardTypeId },
          body: { id: newId(), revision, machineId, positionId },
        }),
      ),
    onSuccess: async (made) => {
      await queries.invalidateQueries();
      await go(`/board-types/${made.boardTypeId}`);
    },
  });
  const others = tables.revisions.filter((r) => r.boardTypeId !== tables.boardTypeId);
  return (
    <section
      aria-label="Revisions"
      className="mt-4 flex flex-wrap items-end gap-x-6 gap-y-2 border-t border-rule-2 pt-2"
    >
      <h2 className="self-center">Revisions</h2>
      {others.map((other) => (
        <span key={other.boardTypeId} className="flex items-center gap-3 text-[14px]">
          <Link className="link inline-flex min-h-[36px] items-center" to={`/board-types/${other.boardTypeId}`}>
            {other.revision ? `rev ${other.revision}` : 'no revision written yet'}
          </Link>
          <Link
            className="link inline-flex min-h-[36px] items-center"
            to={`/board-types/${other.boardTypeId}/compare/${tables.boardTypeId}`}
          >
            compare {other.revision} with {tables.revision}
          </Link>
        </span>
      ))}
      <form
        className="flex items-end gap-2 text-[14px]"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate();
        }}
      >
        <label>
          New revision, as a copy of {tables.revision}
          <input
            className="field mt-0.5 font-mono"
            value={revision}
            onChange={(event) => setRevision(event.target.value)}
          />
        </label>
        <button type="submit" className="quiet" disabled={add.isPending}>
          Begin it
        </button>
      </form>
      <Problem error={add.error} />
    </section>
  );
}
