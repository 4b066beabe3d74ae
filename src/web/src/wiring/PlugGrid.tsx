import { useState } from 'react';
import { Choose } from '../ui/Choose';
import { More } from '../ui/More';
import { gridColumns, type PlugFace, plugLayout, type PlugOrder } from './sheetGrid';

const orders = [
  { value: 'row', words: 'along its rows' },
  { value: 'column', words: 'down its columns' },
  { value: 'zigzag', words: 'to and fro' },
] as const;
const faces = [
  { value: 'wire', words: 'its wire side' },
  { value: 'mating', words: 'its mating face' },
] as const;
const mostPins = 200;

/** A plug that is drawn as a grid: what each pin should read is typed where it is drawn. */
export function PlugGrid({ into }: { into: (rows: string[][]) => void }) {
  const [name, setName] = useState('');
  const [pins, setPins] = useState('8');
  const [rows, setRows] = useState('2');
  const [order, setOrder] = useState<PlugOrder>('row');
  const [face, setFace] = useState<PlugFace>('wire');
  const [values, setValues] = useState<Record<number, string>>({});
  const count = Math.min(mostPins, Math.max(1, Number(pins) || 1));
  const layout = plugLayout(count, Math.min(count, Math.max(1, Number(rows) || 1)), order, face);
  const said = layout
    .flat()
    .filter((n) => n !== null && (values[n] ?? '').trim() !== '')
    .map(Number)
    .sort((a, b) => a - b);
  return (
    <More title="A plug drawn as a grid" className="border-t border-rule">
      <form
        aria-label="A plug drawn as a grid"
        className="pb-2 text-[14px]"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() !== '' && said.length > 0) {
            into(
              said.map((n) =>
                gridColumns.map(([id]) =>
                  id === 'pin' ? `${name.trim()}-${n}` : id === 'reads' ? (values[n] ?? '').trim() : '',
                ),
              ),
            );
            setValues({});
          }
        }}
      >
        <div className="flex flex-wrap items-end gap-3">
          <label className="w-[110px]">
            Plug
            <input className="field mt-0.5 font-mono" value={name} onChange={(event) => setName(event.target.value)} />
          </label>
          <label className="w-[70px]">
            Pins
            <input
              className="field mt-0.5 font-mono"
              inputMode="numeric"
              value={pins}
              onChange={(event) => setPins(event.target.value)}
            />
          </label>
          <label className="w-[70px]">
            Rows
            <input
              className="field mt-0.5 font-mono"
              inputMode="numeric"
              value={rows}
              onChange={(event) => setRows(event.target.value)}
            />
          </label>
          <label>
            Numbered
            <Choose className="mt-0.5" value={order} options={orders} onChange={setOrder} />
          </label>
          <label>
            Drawn from
            <Choose className="mt-0.5" value={face} options={faces} onChange={setFace} />
          </label>
        </div>
        <div className="mt-2 overflow-x-auto" role="region" aria-label="The plug as drawn" tabIndex={0}>
          {layout.map((row, r) => (
            <div key={r} className="flex">
              {row.map((n, c) =>
                n === null ? (
                  <span key={`none ${c}`} className="m-0.5 w-[78px]" />
                ) : (
                  <label key={n} className="m-0.5 w-[78px] border border-rule-2 bg-sheet p-1 font-mono">
                    <span className="text-ink-2">{n}</span>
                    <input
                      className="h-[36px] w-full border-b border-rule bg-transparent"
                      aria-label={`Pin ${n} should read`}
                      value={values[n] ?? ''}
                      onChange={(event) => setValues({ ...values, [n]: event.target.value })}
                    />
                  </label>
                ),
              )}
            </div>
          ))}
        </div>
        <button type="submit" className="quiet mt-2 min-h-[44px]" disabled={name.trim() === '' || said.length === 0}>
          {said.length === 1 ? '1 pin' : `${said.length} pins`} into the rows
        </button>
      </form>
    </More>
  );
}
