import type { VerdictKind } from '../api/generated';

export type MarkKind = VerdictKind | 'here' | 'untouched' | 'skipped' | 'cleared';

const words: Record<MarkKind, string> = {
  within: 'within',
  marginal: 'marginal',
  low: 'low',
  high: 'high',
  dead: 'dead',
  reversed: 'reversed',
  differs: 'differs',
  notJudged: 'not judged',
  here: 'here',
  untouched: 'not yet',
  skipped: 'skipped',
  cleared: 'cleared',
};

export const markWords = (kind: MarkKind): string => words[kind];

/** Text colour that goes with a mark; the word and the shape stand beside it. */
export function markColour(kind: MarkKind): string {
  switch (kind) {
    case 'within':
    case 'cleared':
      return 'text-within';
    case 'marginal':
      return 'text-marginal';
    case 'low':
    case 'high':
    case 'dead':
    case 'reversed':
    case 'differs':
      return 'text-out';
    case 'here':
      return 'text-rust';
    default:
      return 'text-idle';
  }
}

/** The shape of a mark around 0,0 with a radius of 1; shape tells before colour does. */
export function MarkShape({ kind }: { kind: MarkKind }) {
  switch (kind) {
    case 'within':
      return <circle r={0.9} fill="currentColor" />;
    case 'cleared':
      return (
        <>
          <circle r={0.8} fill="none" stroke="currentColor" strokeWidth={0.25} />
          <circle r={0.35} fill="currentColor" />
        </>
      );
    case 'marginal':
      return (
        <>
          <circle r={0.8} fill="none" stroke="currentColor" strokeWidth={0.25} />
          <path d="M0,-0.8 A0.8,0.8 0 0 1 0,0.8 Z" fill="currentColor" />
        </>
      );
    case 'low':
      return <path d="M-1,-0.8 L1,-0.8 L0,0.95 Z" fill="currentColor" />;
    case 'high':
      return <path d="M-1,0.8 L1,0.8 L0,-0.95 Z" fill="currentColor" />;
    case 'dead':
      return (
        <>
          <circle r={0.78} fill="none" stroke="currentColor" strokeWidth={0.3} />
          <path d="M-0.6,0.6 L0.6,-0.6" stroke="currentColor" strokeWidth={0.3} />
        </>
      );
    case 'reversed':
      return (
        <path
          d="M-0.95,-0.35 H0.9 M0.45,-0.75 L0.9,-0.35 M0.95,0.35 H-0.9 M-0.45,0.75 L-0.9,0.35"
          fill="none"
          stroke="currentColor"
          strokeWidth={0.3}
        />
      );
    case 'differs':
      return (
        <path
          d="M-0.8,-0.3 H0.8 M-0.8,0.3 H0.8 M-0.45,0.85 L0.45,-0.85"
          fill="none"
          stroke="currentColor"
          strokeWidth={0.28}
        />
      );
    case 'here':
      return <circle r={0.78} fill="none" stroke="currentColor" strokeWidth={0.4} />;
    case 'skipped':
      return <path d="M-0.6,0 H0.6" stroke="currentColor" strokeWidth={0.35} />;
    default:
      return <circle r={0.8} fill="none" stroke="currentColor" strokeWidth={0.22} strokeDasharray="0.45 0.35" />;
  }
}

/** A mark in a line of text. Give `label` where no word stands beside it. */
export function Mark({ kind, label }: { kind: MarkKind; label?: boolean }) {
  return (
    <svg
      viewBox="-1.1 -1.1 2.2 2.2"
      className={`inline-block size-[14px] shrink-0 ${markColour(kind)}`}
      {...(label ? { role: 'img', 'aria-label': words[kind] } : { 'aria-hidden': true })}
    >
      <MarkShape kind={kind} />
    </svg>
  );
}
