import type { CircuitStateView } from '../api/generated';

/** Volts by pin and currents between pins, on one board. */
export interface BoardFlows {
  volts: ReadonlyMap<string, string>;
  lines: { from: string; to: string; amps: number; words: string; stops: boolean }[];
}

export function flowsOn(state: CircuitStateView | undefined, position: string): BoardFlows {
  return {
    volts: new Map(
      (state?.pins ?? [])
        .filter((p) => p.address.position === position && p.volts !== null)
        .map((p) => [p.address.pin ?? '', p.words] as const),
    ),
    lines: (state?.flows ?? [])
      .filter((f) => f.from.position === position && f.to.position === position)
      .map((f) => ({
        from: f.from.pin ?? '',
        to: f.to.pin ?? '',
        amps: Math.abs(f.amps),
        words: f.words,
        stops: f.stops,
      })),
  };
}
