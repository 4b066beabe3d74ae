import { onPress } from '../ui/pressed';

interface DigitProps {
  /** Lit bars by their letters. */
  lit: string;
  /** Which digit it is, from 1. */
  number: number;
  toggle: (bar: string) => void;
}

// Bars of a digit 10 wide and 18 high: A on top, then clockwise, G in the middle.
const bars: Record<string, string> = {
  a: 'M1.2,1 L2,0.2 H8 L8.8,1 L8,1.8 H2 Z',
  b: 'M9,1.2 L9.8,2 V8 L9,8.8 L8.2,8 V2 Z',
  c: 'M9,9.2 L9.8,10 V16 L9,16.8 L8.2,16 V10 Z',
  d: 'M1.2,17 L2,16.2 H8 L8.8,17 L8,17.8 H2 Z',
  e: 'M1,9.2 L1.8,10 V16 L1,16.8 L0.2,16 V10 Z',
  f: 'M1,1.2 L1.8,2 V8 L1,8.8 L0.2,8 V2 Z',
  g: 'M1.2,9 L2,8.2 H8 L8.8,9 L8,9.8 H2 Z',
};
const names: Record<string, string> = {
  a: 'top',
  b: 'upper right',
  c: 'lower right',
  d: 'bottom',
  e: 'lower left',
  f: 'upper left',
  g: 'middle',
};

/** A digit whose bars are tapped as they are lit. */
export function Digit({ lit, number, toggle }: DigitProps) {
  return (
    <svg viewBox="-1.5 -1.5 13 21" className="h-[168px] w-[104px] bg-iron" role="group" aria-label={`Digit ${number}`}>
      {Object.entries(bars).map(([bar, path]) => {
        const isLit = lit.includes(bar);
        const press = () => toggle(bar);
        return (
          <g
            key={bar}
            role="button"
            tabIndex={0}
            aria-pressed={isLit}
            aria-label={`${names[bar] ?? ''} bar of digit ${number}`}
            className="cursor-pointer"
            onClick={press}
            onKeyDown={onPress(press)}
          >
            <path d={path} strokeWidth={1.6} className="fill-transparent stroke-transparent" />
            <path
              d={path}
              strokeWidth={0.15}
              className={isLit ? 'fill-[#f08a3c] stroke-[#f08a3c]' : 'fill-[#3a342e] stroke-[#c6bbac]'}
            />
          </g>
        );
      })}
    </svg>
  );
}
