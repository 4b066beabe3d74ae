import { useId } from 'react';
import { Choose, optionsOf } from '../ui/Choose';
import { TickBox } from '../ui/Tick';

export type Cell = string | number | boolean | string[] | null;

export interface Column<Row> {
  /** Reads and writes one property of a row. */
  name: keyof Row & string;
  label: string;
  kind: 'text' | 'number' | 'date' | 'choice' | 'choiceOrNone' | 'check' | 'list';
  options?: [value: string, words: string][];
  wide?: boolean;
  narrow?: boolean;
}

interface RowsProps<Row> {
  title: string;
  rows: Row[];
  columns: Column<Row>[];
  /** A new line; left out where lines are added otherwise. */
  fresh?: () => Row;
  onChange: (rows: Row[]) => void;
  /** Something was finished: it can be kept. */
  onSettle: (rows: Row[]) => void;
  empty: string;
}

const parsed = (kind: Column<unknown>['kind'], text: string): Cell => {
  switch (kind) {
    case 'number': {
      const number = Number(text.replace(',', '.'));
      return text.trim() === '' || Number.isNaN(number) ? null : number;
    }
    case 'list':
      return text.split(',').map((t) => t.trim());
    case 'date':
    case 'choiceOrNone':
      return text === '' ? null : text;
    default:
      return text;
  }
};

const shown = (value: unknown): string =>
  typeof value === 'string' || typeof value === 'number' ? `${value}` : Array.isArray(value) ? value.join(', ') : '';

/** One field of a row: kept when it is left. */
export function RowField<Row>({
  column: c,
  row,
  settle,
}: {
  column: Column<Row>;
  row: Row;
  settle: (value: Cell) => void;
}) {
  const value = row[c.name];
  return c.kind === 'check' ? (
    <TickBox className="mx-2" on={Boolean(value)} set={settle} />
  ) : c.kind === 'choice' || c.kind === 'choiceOrNone' ? (
    <Choose
      className="px-1 text-[14px]"
      value={shown(value)}
      options={[...(c.kind === 'choiceOrNone' ? [{ value: '', words: 'none' }] : []), ...optionsOf(c.options ?? [])]}
      onChange={(chosen) => {
        settle(parsed(c.kind, chosen));
      }}
    />
  ) : (
    <input
      // A new one when the value comes from elsewhere, so that it shows what stands.
      key={JSON.stringify(value)}
      type="text"
      {...(c.kind === 'date'
        ? { pattern: '\\d{4}-\\d{2}-\\d{2}', placeholder: 'yyyy-mm-dd', title: 'a day such as 2018-07-31' }
        : {})}
      inputMode={c.kind === 'number' ? 'decimal' : undefined}
      className={`field px-1 text-[14px] invalid:border-2 invalid:border-out ${c.kind === 'text' ? '' : 'font-mono'}`}
      defaultValue={shown(value)}
      // What is written stays as written until the field is left; then it is read.
      onBlur={(event) => {
        if (!event.target.reportValidity()) {
          return;
        }
        const written = parsed(c.kind, event.target.value);
        if (JSON.stringify(written) !== JSON.stringify(value ?? null)) {
          settle(written);
        }
      }}
    />
  );
}

/** A list of alike things, a line each, edited where they stand and kept as each field is left. */
export function Rows<Row extends object>({ title, rows, columns, fresh, onChange, onSettle, empty }: RowsProps<Row>) {
  const id = useId();
  const put = (at: number, name: keyof Row, value: Cell): Row[] =>
    rows.map((r, i) => (i === at ? { ...r, [name]: value } : r));
  return (
    <div role="group" aria-labelledby={id} className="mt-2">
      <h3 id={id} className="text-[14px] font-bold text-ink-2">
        {title}
      </h3>
      {rows.length === 0 && <p className="text-[14px] text-ink-2">{empty}</p>}
      {rows.map((row, at) => (
        <div key={at} className="flex flex-wrap items-end gap-2 border-b border-rule py-1">
          {columns.map((c) => (
            <label
              key={c.name}
              className={`text-[13px] ${c.wide ? 'min-w-[180px] flex-[2]' : c.narrow ? 'w-[76px]' : c.kind === 'check' ? '' : 'min-w-[92px] flex-1'}`}
            >
              <span className={at === 0 ? 'text-ink-2' : 'sr-only'}>{c.label}</span>
              <RowField
                column={c}
                row={row}
                settle={(value) => {
                  const next = put(at, c.name, value);
                  onChange(next);
                  onSettle(next);
                }}
              />
            </label>
          ))}
          <button
            type="button"
            className="link min-h-[38px] text-[14px] max-[899px]:min-h-[44px]"
            aria-label={`Strike out ${title}, line ${at + 1}`}
            onClick={() => {
              const next = rows.filter((_, i) => i !== at);
              onChange(next);
              onSettle(next);
            }}
          >
            Strike out
          </button>
        </div>
      ))}
      {fresh && (
        <button
          type="button"
          className="link min-h-[34px] text-[14px] max-[899px]:min-h-[44px]"
          onClick={() => onChange([...rows, fresh()])}
        >
          Add to {title.toLowerCase()}
        </button>
      )}
    </div>
  );
}
