import { useState } from 'react';
import { Link } from 'react-router';
import { type LayoutEdit, type LayoutRowKind, type LayoutTables } from '../api/generated';
import { newId } from '../api/newId';
import { Choose } from '../ui/Choose';
import { useDraft } from '../ui/useDraft';

interface AdderProps {
  kind: LayoutRowKind;
  tables: LayoutTables;
  add: (edits: LayoutEdit[]) => void;
}

/** A new row: an element, a pin of an element, a check of a pin. */
export function Adder({ kind, tables, add }: AdderProps) {
  const elements = tables.rows.filter((r) => r.kind === 'element');
  const pins = tables.rows.filter((r) => r.kind === 'pin');
  const names = new Map(elements.map((e) => [e.id, e.cells.designator]));
  const [parent, setParent] = useState('');
  const [pin, setPin] = useState('');
  const [limit, setLimit] = useDraft(`new-check/${tables.boardTypeId}`);
  const owner = elements.some((e) => e.id === parent)
    ? parent
    : ((elements.findLast((e) => e.cells.kind === 'connector') ?? elements.at(-1))?.id ?? '');
  const row = (what: Partial<LayoutEdit>): LayoutEdit => ({
    kind: 'add',
    row: kind,
    parent: '',
    id: newId(),
    column: null,
    before: '',
    text: '',
    ...what,
  });
  return (
    <div className="flex flex-wrap items-center gap-3 py-2 text-[14px]">
      {kind === 'element' && (
        <>
          <button type="button" className="quiet" onClick={() => add([row({})])}>
            Add a connector
          </button>
          <Link
            className="link inline-flex min-h-[36px] items-center max-[899px]:min-h-[44px]"
            to={`/board-types/${tables.boardTypeId}/layout`}
          >
            Lay it out: lamps, jumpers, trimmers, relays and the rest
          </Link>
        </>
      )}
      <a
        className="link order-last ml-auto inline-flex min-h-[36px] items-center max-[899px]:min-h-[44px]"
        href={`/api/board-types/${encodeURIComponent(tables.boardTypeId)}/bundle`}
        download
      >
        As a bundle
      </a>
      {kind === 'pin' && elements.length > 0 && (
        <>
          <label className="flex items-center gap-2">
            Add to
            <Choose
              className="w-auto"
              value={owner}
              options={elements.map((e) => ({ value: e.id, words: `${e.cells.designator}` }))}
              onChange={setParent}
            />
          </label>
          {[1, 8].map((count) => (
            <button
              key={count}
              type="button"
              className="quiet"
              onClick={() => add(Array.from({ length: count }, () => row({ parent: owner })))}
            >
              {count === 1 ? 'a pin' : `${count} pins`}
            </button>
          ))}
        </>
      )}
      {kind === 'check' && pins.length > 0 && (
        <>
          <label className="flex items-center gap-2">
            Add a check at
            <Choose
              className="w-auto"
              value={pin}
              options={pins.map((p) => {
                const name = `${names.get(p.parent) ?? ''}·${p.cells.label ?? ''}`;
                return { value: name, words: name };
              })}
              onChange={setPin}
            />
          </label>
          <label className="flex items-center gap-2">
            should read
            <input
              className="field w-[150px] font-mono"
              placeholder="24 V ±5 %"
              value={limit}
              onChange={(event) => setLimit(event.target.value)}
            />
          </label>
          <button
            type="button"
            className="quiet"
            onClick={() => {
              const first = pins[0];
              const red = pin || (first ? `${names.get(first.parent) ?? ''}·${first.cells.label ?? ''}` : '');
              add([row({ cells: { red, limit } })]);
            }}
          >
            Add it
          </button>
        </>
      )}
    </div>
  );
}
