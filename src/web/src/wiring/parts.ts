import type { OffBoardPart, PartKind, Pin, UsualPart } from '../api/generated';
import { newId } from '../api/newId';

/** A part off the boards as its line holds it: its pins by what is printed at them. */
export interface PartLine {
  id: string;
  kind: PartKind;
  designator: string;
  name: string;
  /** What it does, and what pressing or holding it does. */
  does: string;
  pins: string[];
  sources: string[];
}

export const lineOf = (part: OffBoardPart): PartLine => ({
  id: part.id,
  kind: part.kind,
  designator: part.designator,
  name: part.name,
  does: part.does ?? '',
  pins: part.pins.map((p) => p.label),
  sources: part.pins.filter((p) => p.isSource).map((p) => p.label),
});

/**
 * The part a line says. A pin that is printed as before stays the pin it was, with its wires and readings; one that is
 * printed otherwise in the same place was renamed.
 */
export function partOf(line: PartLine, before: OffBoardPart | undefined): OffBoardPart {
  const labels = line.pins.map((l) => l.trim()).filter(Boolean);
  const known = new Map(before?.pins.map((p) => [p.label, p]));
  const free = (before?.pins ?? []).filter((p) => !labels.includes(p.label));
  const pins = labels.map((label, i): Pin => {
    const was = known.get(label) ?? free.find((p) => p.index === i + 1);
    return {
      ...(was ?? { id: newId(), colours: '', signal: '' }),
      index: i + 1,
      label,
      isSource: line.sources.map((l) => l.trim()).includes(label),
    };
  });
  return {
    id: line.id,
    kind: line.kind,
    designator: line.designator.trim(),
    name: line.name.trim(),
    does: line.does.trim(),
    pins,
  };
}

/** The next free designator of a kind: K3 after K1 and K2; the bare letters where it is the only one, such as PS. */
export function nextDesignator(letters: string, taken: readonly string[]): string {
  const all = new Set(taken.map((t) => t.toUpperCase()));
  if (letters.length > 1 && !all.has(letters)) {
    return letters;
  }
  let number = 1;
  while (all.has(`${letters}${number}`)) {
    number++;
  }
  return `${letters}${number}`;
}

/** A new part of a kind, with its usual pins. */
export function freshPart(usual: UsualPart, taken: readonly string[]): PartLine {
  return {
    id: newId(),
    kind: usual.kind,
    designator: nextDesignator(usual.designator, taken),
    name: usual.words,
    does: '',
    pins: usual.labels,
    sources: usual.sources,
  };
}

/**
 * A line whose kind was changed: what nobody has written in it yet becomes what is usual of the new kind.
 */
export function ofKind(
  line: PartLine,
  was: UsualPart | undefined,
  usual: UsualPart,
  taken: readonly string[],
): PartLine {
  const asUsual = was !== undefined && JSON.stringify(line.pins) === JSON.stringify(was.labels);
  return {
    ...line,
    kind: usual.kind,
    ...(asUsual ? { pins: usual.labels, sources: usual.sources } : {}),
    ...(line.name === was?.words ? { name: usual.words } : {}),
    ...(was && line.designator.startsWith(was.designator) && asUsual
      ? { designator: nextDesignator(usual.designator, taken) }
      : {}),
  };
}
