import { useState } from 'react';
import { resizeBoard, type ElementKind, type LayoutEdit, type LayoutTables } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { Choose, optionsOf } from '../ui/Choose';
import { Problem } from '../ui/Problem';
import { elementWords } from './ElementLeaf';

/** A new element with its footprint from pins, rows and pitch. */
export function Adder({ add }: { add: (edits: LayoutEdit[], id: string) => void }) {
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
        <Choose className="mt-0.5" value={kind} options={optionsOf(elementWords)} onChange={setKind} />
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

export function Size({ tables, fresh }: { tables: LayoutTables; fresh: () => void }) {
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
