import type { OffBoardPart, UsualPart } from '../api/generated';
import { Choose } from '../ui/Choose';
import { type Column, Rows } from '../models/Rows';
import { freshPart, lineOf, ofKind, type PartLine, partOf } from './parts';

interface PartsProps {
  usual: UsualPart[];
  parts: OffBoardPart[];
  /** Of the boards; a part is called otherwise. */
  prefixes: string[];
  change: (parts: OffBoardPart[]) => void;
  settle: (parts: OffBoardPart[]) => void;
}

/** What is not on a board: chosen by its kind, it comes with the pins that are usual of it. */
export function Parts({ usual, parts, prefixes, change, settle }: PartsProps) {
  const taken = [...prefixes, ...parts.map((p) => p.designator)];
  const usualOf = (kind: string) => usual.find((u) => u.kind === kind);
  const columns: Column<PartLine>[] = [
    { name: 'kind', label: 'What it is', kind: 'choice', options: usual.map((u) => [u.kind, u.words]) },
    { name: 'designator', label: 'Called', kind: 'text', narrow: true },
    { name: 'name', label: 'Name', kind: 'text' },
    { name: 'pins', label: 'Pins, as printed', kind: 'list' },
    { name: 'sources', label: 'Power in', kind: 'list', narrow: true },
    { name: 'does', label: 'What it does; pressed, held', kind: 'text', wide: true },
  ];
  const to = (lines: PartLine[]) =>
    lines.map((line) => {
      const before = parts.find((p) => p.id === line.id);
      const now = usualOf(line.kind);
      return before && now && before.kind !== line.kind
        ? partOf(ofKind(line, usualOf(before.kind), now, taken), undefined)
        : partOf(line, before);
    });
  return (
    <>
      <Rows
        // The fields of a line show what its kind brings.
        key={parts.map((p) => `${p.id} ${p.kind}`).join()}
        title="Off the boards"
        rows={parts.map(lineOf)}
        columns={columns}
        empty="Nothing yet: the supply, switches, plugs in the line, motors and sensors."
        onChange={(lines) => change(to(lines))}
        onSettle={(lines) => settle(to(lines))}
      />
      <p className="mt-1 text-[14px]">
        <Choose
          name="Add what is off the boards"
          className="w-auto"
          value=""
          options={[
            { value: '', words: 'Add: choose what it is' },
            ...usual.map((u) => ({ value: u.kind, words: u.words })),
          ]}
          onChange={(kind) => {
            const chosen = usualOf(kind);
            if (chosen) {
              settle([...parts, partOf(freshPart(chosen, taken), undefined)]);
            }
          }}
        />
      </p>
    </>
  );
}
