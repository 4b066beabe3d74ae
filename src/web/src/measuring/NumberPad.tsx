import type { RowView } from '../api/generated';
import { isOfWords, padKeys } from './modes';

interface NumberPadProps {
  row: RowView;
  press: (key: string) => void;
  /** Writes a text in the place of what is typed, or behind it. */
  write: (text: string, adds: boolean) => void;
  storeWord: string;
}

const keys: [label: string, key: string, spoken?: string][] = [
  ['7', '7'],
  ['8', '8'],
  ['9', '9'],
  ['take back', 'Backspace', 'Take back'],
  ['4', '4'],
  ['5', '5'],
  ['6', '6'],
  ['OL', '*', 'OL, no path'],
  ['1', '1'],
  ['2', '2'],
  ['3', '3'],
  ['later', 'later', 'Skip, later'],
  ['−', '-', 'Minus'],
  ['0', '0'],
  ['.', '.', 'Point'],
];

// Words are written on the keyboard of letters, which the device brings itself.
const besideWords = new Set(['Backspace', 'later']);

/** The number pad for a thumb, with the keys that what is read here needs. The pad writes; the field above shows. */
export function NumberPad({ row, press, write, storeWord }: NumberPadProps) {
  const cell = 'min-h-[54px] cursor-pointer border-t border-l border-rule-2 font-mono text-[22px] font-bold';
  const small = 'min-h-[54px] cursor-pointer border-t border-l border-rule-2 text-[16px] font-semibold';
  const words = isOfWords(row.mode);
  const own = words ? [] : padKeys(row.mode, row.limit);
  return (
    <div
      role="group"
      aria-label="Number pad"
      className="fixed inset-x-0 bottom-0 z-[5] grid grid-cols-12 bg-paper min-[900px]:hidden"
    >
      {own.length > 0 && (
        <div className="col-span-12 grid" style={{ gridTemplateColumns: `repeat(${own.length}, minmax(0, 1fr))` }}>
          {own.map((key) => (
            <button
              key={key.label}
              type="button"
              aria-label={key.spoken ?? key.label}
              className={key.label.length > 2 ? small : cell}
              onClick={() => write(key.text, key.adds ?? false)}
            >
              {key.label}
            </button>
          ))}
        </div>
      )}
      {keys
        .filter(([, key]) => !words || besideWords.has(key))
        .map(([label, key, spoken]) => (
          <button
            key={key}
            type="button"
            aria-label={spoken ?? label}
            className={`${words ? 'col-span-4' : 'col-span-3'} ${label.length > 1 ? small : cell}`}
            onClick={() => press(key)}
          >
            {label}
          </button>
        ))}
      <button
        type="button"
        className={`${words ? 'col-span-4' : 'col-span-3'} cursor-pointer bg-rust text-[18px] font-bold text-on-rust`}
        onClick={() => press('Enter')}
      >
        {storeWord}
      </button>
    </div>
  );
}
