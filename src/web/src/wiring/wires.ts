import type { Link as WireLink, PinAddress } from '../api/generated';
import { newId } from '../api/newId';
import { addressText } from '../ui/address';
import type { CellChange } from '../ui/grid';
import { found, type NamedPin } from '../ui/PinBox';

export interface PlacedPin extends NamedPin {
  address: PinAddress;
}

/** A wire as its row holds it, in texts; one that names no two pins yet waits in its row. */
export interface WireRow {
  id: string;
  from: string;
  to: string;
  number: string;
  power: string;
}

export const powerWords = ['feeds', 'no direction'] as const;

/** The pin that a text names: exactly, or without its dashes and dots where only one is meant. */
export function pinCalled(pins: PlacedPin[], text: string): PlacedPin | undefined {
  const said = text.trim();
  if (said === '') {
    return undefined;
  }
  const exact = pins.find((p) => p.printed.toLowerCase() === said.toLowerCase());
  const may = exact ? [exact] : found(pins, said);
  const ends = (p: PlacedPin) => p.printed.replace(/[·.\s-]/g, '').toLowerCase();
  const bare = said.replace(/[·.:/\s-]/g, '').toLowerCase();
  const same = may.filter((p) => ends(p) === bare);
  return exact ?? (same.length === 1 ? same[0] : may.length === 1 ? may[0] : undefined);
}

export const isSameWire = (wire: WireLink, a: PinAddress, b: PinAddress): boolean => {
  const ends = [addressText(wire.from), addressText(wire.to)];
  return ends.includes(addressText(a)) && ends.includes(addressText(b));
};

export const rowOf = (wire: WireLink, name: (at: PinAddress) => string): WireRow => ({
  id: wire.id,
  from: name(wire.from),
  to: name(wire.to),
  number: wire.number ?? '',
  power: wire.directed ? 'feeds' : 'no direction',
});

/** What is wrong with a row, by column; nothing where it is a wire. */
export function problemsOf(row: WireRow, pins: PlacedPin[]): Partial<Record<keyof WireRow, string>> {
  const [from, to] = [pinCalled(pins, row.from), pinCalled(pins, row.to)];
  return {
    ...(row.from.trim() && !from ? { from: `There is no one pin “${row.from}”.` } : {}),
    ...(row.to.trim() && !to ? { to: `There is no one pin “${row.to}”.` } : {}),
    ...(from && to && from === to ? { to: 'A wire has two ends.' } : {}),
    ...(row.number.length > 12 ? { number: 'At most 12 signs.' } : {}),
  };
}

/** The wire that a row says, or nothing where it does not say one yet. */
export function wireOf(row: WireRow, pins: PlacedPin[]): WireLink | undefined {
  const [from, to] = [pinCalled(pins, row.from), pinCalled(pins, row.to)];
  if (!from || !to || Object.keys(problemsOf(row, pins)).length > 0) {
    return undefined;
  }
  const back = /^(fed|back|from)/i.test(row.power.trim());
  return {
    id: row.id,
    from: back ? to.address : from.address,
    to: back ? from.address : to.address,
    directed: back || /^(feeds|feed|yes|y|x|power)/i.test(row.power.trim()),
    number: row.number.trim(),
  };
}

/** A row that is about to be typed. */
export const freshRow = (): WireRow => ({ id: newId(), from: '', to: '', number: '', power: 'feeds' });

/**
 * The rows after some changes: those that say a wire go among the wires, in their places; the others wait, with what was
 * typed. A wire that stands already is not made again.
 */
export function changed(
  wires: WireLink[],
  waiting: WireRow[],
  changes: CellChange[],
  pins: PlacedPin[],
  name: (at: PinAddress) => string,
): { wires: WireLink[]; waiting: WireRow[] } {
  const rows = new Map([...wires.map((w) => rowOf(w, name)), ...waiting].map((r) => [r.id, r]));
  const touched = new Set<string>();
  for (const { row, column, text } of changes) {
    const now = rows.get(row) ?? { ...freshRow(), id: row };
    rows.set(row, { ...now, [column]: text });
    touched.add(row);
  }
  const next = { wires: [] as WireLink[], waiting: [] as WireRow[] };
  for (const row of rows.values()) {
    const was = wires.find((w) => w.id === row.id);
    const wire = was && !touched.has(row.id) ? was : wireOf(row, pins);
    if (wire && !next.wires.some((w) => isSameWire(w, wire.from, wire.to))) {
      next.wires.push(wire);
    } else if (row.from.trim() !== '' || row.to.trim() !== '' || row.number.trim() !== '') {
      next.waiting.push(row);
    }
  }
  return next;
}
