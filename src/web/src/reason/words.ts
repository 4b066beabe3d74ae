import type { ActKind, School, SuspectStanding } from '../api/generated';
import type { MarkKind } from '../ui/Mark';

export const schools: [School, string, string][] = [
  ['fastest', 'Fastest to proof', 'the least time to the end of the visit'],
  ['usual', 'Usual culprit first', 'what is suspected most is looked at before all else'],
  ['path', 'Strictly along the path', 'the sheet in its order, as far as it tells something'],
  ['noLive', 'No live work', 'dead readings alone'],
  ['noSwaps', 'No parts swapped', 'nothing is fitted to try it'],
];

export const standingMarks: Record<SuspectStanding, MarkKind> = {
  cleared: 'skipped',
  possible: 'untouched',
  likely: 'here',
  proved: 'high',
};

export const standingWords: Record<SuspectStanding, string> = {
  cleared: 'cleared',
  possible: '',
  likely: 'likely',
  proved: 'proved',
};

/** A share of all that may be wrong, in words that claim no more digits than there are. */
export const percent = (share: number): string =>
  share > 0.99 ? '> 99 %' : share < 0.01 ? '< 1 %' : `${Math.round(100 * share)} %`;

/** How many times likelier, as odds. */
export const odds = (factor: number): string => {
  const times = factor >= 1 ? factor : 1 / factor;
  return `${times >= 1000 ? 'over 1000' : times >= 10 ? Math.round(times) : Math.round(times * 10) / 10} to 1`;
};

export const minutes = (of: number): string => `${of < 10 ? Math.round(of * 10) / 10 : Math.round(of)} min`;

/** What is done in an act that is seen rather than read, and how large it stands. */
export const leads: Partial<Record<ActKind, [string, string]>> = {
  try: ['Try it', 'text-[34px]'],
  look: ['Look at it', 'text-[34px]'],
  inspect: ['Look at it closely', 'text-[30px]'],
  swap: ['Let them change places, and try', 'text-[26px]'],
  wiggle: ['Move the plug and its wires while it runs', 'text-[30px]'],
  close: ['Put it in whole or close it, and switch on', 'text-[30px]'],
};
