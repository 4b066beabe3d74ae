import type { FieldOrigin } from '../api/generated';

/** Where a pin comes from, and each field of it that somebody else says. */
export const originWords = ([whole, ...fields]: FieldOrigin[]): string =>
  whole ? [`From ${whole.from}`, ...fields.map((f) => `${f.field} from ${f.from}`)].join('; ') + '.' : '';
