import type { Ending } from '../api/generated';

export const endingWords: Record<Ending, string> = {
  signed: 'repaired and signed',
  waitingForPart: 'waiting for a part',
  noFaultFound: 'no fault found',
  temporaryRepair: 'temporary repair',
  leftSafe: 'left safe and tagged out',
};
