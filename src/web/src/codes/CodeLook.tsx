import { type BoardCodes, type CodeAsked, type CodePattern, type CodesFound } from '../api/generated';
import { Choose } from '../ui/Choose';
import { lampColours } from '../ui/lamp';
import { Digit } from './Digit';

export const nothing: CodeAsked = {
  kind: 'display',
  text: '',
  digits: [],
  element: '',
  colour: '',
  pattern: null,
  taps: [],
  count: null,
};

export function isSaid(asked: CodeAsked): boolean {
  return (
    asked.text.trim() !== '' ||
    asked.digits.some((d) => d !== '') ||
    asked.taps.length > 1 ||
    asked.count !== null ||
    asked.pattern !== null ||
    asked.colour !== '' ||
    asked.element !== ''
  );
}

export interface PartProps {
  asked: CodeAsked;
  put: (what: Partial<CodeAsked>) => void;
}

export function Display({ asked, put, found }: PartProps & { found: CodesFound | undefined }) {
  const digits = asked.digits.length > 0 ? asked.digits : ['', ''];
  const toggle = (at: number, bar: string) =>
    put({
      text: '',
      digits: digits.map((d, i) =>
        i !== at
          ? d
          : d.includes(bar)
            ? d.replace(bar, '')
            : Array.from(d + bar)
                .sort()
                .join(''),
      ),
    });
  return (
    <>
      <h2>Tap the bars that are lit</h2>
      <div className="mt-2 flex flex-wrap gap-1">
        {digits.map((lit, i) => (
          <Digit key={i} lit={lit} number={i + 1} toggle={(bar) => toggle(i, bar)} />
        ))}
      </div>
      <p className="mt-1 min-h-[24px] text-[14px] text-ink-2" role="status">
        {asked.digits.length > 0 &&
          found?.signs.map((s, i) => `${i > 0 ? ', ' : ''}${s === '' ? 'no sign' : Array.from(s).join(' or ')}`)}
      </p>
      <p className="flex gap-2 text-[14px]">
        <button
          type="button"
          className="quiet"
          disabled={digits.length >= 6}
          onClick={() => put({ text: '', digits: [...digits, ''] })}
        >
          One digit more
        </button>
        <button
          type="button"
          className="quiet"
          disabled={digits.length <= 1}
          onClick={() => put({ text: '', digits: digits.slice(0, -1) })}
        >
          One less
        </button>
      </p>
      <label className="mt-3 block">
        or type what it shows
        <input
          className="field mt-0.5 font-mono text-[24px]"
          autoComplete="off"
          value={asked.text}
          onChange={(event) => put({ text: event.target.value, digits: [] })}
        />
      </label>
    </>
  );
}

export function Lamp({ asked, put, codes }: PartProps & { codes: BoardCodes }) {
  const patterns: [CodePattern, string][] = [
    ['steady', 'Steady'],
    ['even', 'Blinks evenly'],
    ['groups', 'In groups'],
    ['off', 'Off'],
  ];
  const colours = lampColours.filter(
    (c) => codes.codes.some((code) => code.colour === c) || codes.lamps.some((l) => l.colour === c),
  );
  return (
    <div className="text-[14px]">
      {codes.lamps.length > 0 && (
        <label className="block">
          Which lamp
          <Choose
            className="mt-0.5"
            value={asked.element}
            options={[
              { value: '', words: 'any' },
              ...codes.lamps.map((l) => ({
                value: l.designator,
                words: [l.designator, l.colour, l.purpose].filter(Boolean).join(', '),
              })),
            ]}
            onChange={(element) => put({ element })}
          />
        </label>
      )}
      <p className="mt-2 flex flex-wrap gap-2" role="group" aria-label="Colour">
        {(colours.length > 0 ? colours : lampColours).map((c) => (
          <button
            key={c}
            type="button"
            className={`quiet min-h-[44px] ${asked.colour === c ? 'border-ink font-bold' : ''}`}
            aria-pressed={asked.colour === c}
            onClick={() => put({ colour: asked.colour === c ? '' : c })}
          >
            {c}
          </button>
        ))}
      </p>
      <p className="mt-2 flex flex-wrap gap-2" role="group" aria-label="How it is lit">
        {patterns.map(([p, words]) => (
          <button
            key={p}
            type="button"
            className={`quiet min-h-[44px] ${asked.pattern === p ? 'border-ink font-bold' : ''}`}
            aria-pressed={asked.pattern === p}
            onClick={() => put({ pattern: asked.pattern === p ? null : p, taps: [], count: null })}
          >
            {words}
          </button>
        ))}
      </p>
    </div>
  );
}
