import type { ColourView } from '../api/generated';

// How the sleeves of IEC 60757 look on a screen; the words always stand beside them.
const sleeves: Record<string, string> = {
  BK: '#1b1b1b',
  BN: '#6b4022',
  RD: '#b8202c',
  OG: '#e07a1b',
  YE: '#e6c229',
  GN: '#2e7d43',
  BU: '#2d5da8',
  VT: '#6d3f97',
  GY: '#8a8a8a',
  WH: '#ffffff',
  PK: '#e79ab0',
  GD: '#b08d2e',
  TQ: '#2aa198',
  SR: '#c0c0c0',
};

/** A wire's colours as a split swatch with their words. */
export function Wire({ colours, words }: { colours: ColourView[]; words: string }) {
  if (colours.length === 0) {
    return (
      <span className="text-ink-2">
        <span aria-hidden="true">–</span>
        <span className="sr-only">no wire colour noted</span>
      </span>
    );
  }
  const half = 34 / colours.length;
  return (
    <span className="inline-flex items-center gap-2">
      <svg viewBox="0 0 34 13" className="h-[13px] w-[34px] shrink-0" aria-hidden="true">
        {colours.map((c, i) => (
          <rect key={c.code} x={i * half} width={half} height={13} fill={sleeves[c.code]} />
        ))}
        <rect x={0.5} y={0.5} width={33} height={12} fill="none" className="stroke-rule-2" />
      </svg>
      <span>{words}</span>
    </span>
  );
}
