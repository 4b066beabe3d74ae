import type { CircuitFaultView } from '../api/generated';

/** The faults that speak of a part or a pin as it is printed, the likeliest first: of `Z1-J1·1` those of that pin alone, not of `·12`. */
export function faultsAt(faults: readonly CircuitFaultView[], place: string): CircuitFaultView[] {
  const printed = place.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  const spoken = new RegExp(`(^|\\s)${printed}($|[\\s·:,])`);
  return faults.filter((f) => spoken.test(f.part) || spoken.test(f.words)).sort((a, b) => b.share - a.share);
}
