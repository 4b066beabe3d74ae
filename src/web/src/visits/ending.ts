import type { Ending } from '../api/generated';
import type { MarkKind } from '../ui/Mark';

export const endingWords: Record<Ending, string> = {
  signed: 'repaired and signed',
  waitingForPart: 'waiting for a part',
  noFaultFound: 'no fault found',
  temporaryRepair: 'temporary repair',
  leftSafe: 'left safe and tagged out',
};

/** Endings differ in the shape of their mark. */
export const endingMarks: Record<Ending, MarkKind> = {
  signed: 'within',
  waitingForPart: 'untouched',
  noFaultFound: 'cleared',
  temporaryRepair: 'marginal',
  leftSafe: 'dead',
};
