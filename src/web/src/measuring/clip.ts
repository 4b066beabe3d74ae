import type { ProbeView, RoundView } from '../api/generated';

/** The return that a pin belongs to, by the names of its pins; undefined for a pin of none. */
const returnOf = (view: Pick<RoundView, 'returns'>, printed: string | undefined): string[] | undefined =>
  view.returns.find((pins) => printed !== undefined && pins.includes(printed));

/** Where the black probe may be clipped instead, so that it stands for the same: the other pins of its return. */
export const placesFor = (
  view: Pick<RoundView, 'returns' | 'pins'>,
  black: ProbeView | null | undefined,
): ProbeView[] => {
  const pins = new Set(returnOf(view, black?.printed));
  return view.pins.filter((p) => pins.has(p.printed));
};

/**
 * The round as it is measured with the black probe left where it is clipped: every check against the same return is read
 * against the clip, and all others as the sheet has them.
 *
 * @param clip The printed name of its pin; empty for the sheet's own.
 */
export function withClip(view: RoundView, clip: string): RoundView {
  const at = view.pins.find((p) => p.printed === clip);
  const pins = new Set(returnOf(view, at?.printed));
  return at && pins.size > 0
    ? {
        ...view,
        rows: view.rows.map((row) =>
          row.black &&
          row.black.printed !== row.red?.printed &&
          pins.has(row.black.printed) &&
          row.red?.printed !== at.printed
            ? { ...row, black: at }
            : row,
        ),
      }
    : view;
}
