interface NumberPadProps {
  press: (key: string) => void;
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

/** The number pad for a thumb. The pad writes; the field above shows. */
export function NumberPad({ press, storeWord }: NumberPadProps) {
  const cell = 'min-h-[54px] cursor-pointer border-t border-l border-rule-2 font-mono text-[22px] font-bold';
  const small = 'min-h-[54px] cursor-pointer border-t border-l border-rule-2 text-[16px] font-semibold';
  return (
    <div
      role="group"
      aria-label="Number pad"
      className="fixed inset-x-0 bottom-0 z-[5] grid grid-cols-4 bg-paper min-[900px]:hidden"
    >
      {keys.map(([label, key, spoken]) => (
        <button
          key={key}
          type="button"
          aria-label={spoken ?? label}
          className={label.length > 1 ? small : cell}
          onClick={() => press(key)}
        >
          {label}
        </button>
      ))}
      <button
        type="button"
        className="row-span-2 cursor-pointer bg-rust text-[18px] font-bold text-on-rust"
        onClick={() => press('Enter')}
      >
        {storeWord}
      </button>
      <button type="button" aria-label="On, closed" className={small} onClick={() => press('+')}>
        on
      </button>
      <button type="button" aria-label="Off, open" className={small} onClick={() => press('off')}>
        off
      </button>
      <div className="grid grid-cols-2">
        <button type="button" aria-label="k, thousand" className={cell} onClick={() => press('k')}>
          k
        </button>
        <button type="button" aria-label="M, million" className={cell} onClick={() => press('M')}>
          M
        </button>
      </div>
    </div>
  );
}
