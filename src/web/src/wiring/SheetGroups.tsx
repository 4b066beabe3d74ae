import type { MachineSheetView, PartKind, SheetGroup, SheetTarget, UsualPart } from '../api/generated';
import { Choose } from '../ui/Choose';
import { Mark } from '../ui/Mark';

interface SheetGroupsProps {
  view: MachineSheetView;
  usual: UsualPart[];
  groups: SheetGroup[];
  say: (key: string, target: SheetTarget) => void;
}

const text = (target: SheetTarget) => [target.kind, target.id, target.name, target.partKind ?? ''].join('/');

/** The connectors of the sheet, and where each is; one answer holds for those that follow. */
export function SheetGroups({ view, usual, groups, say }: SheetGroupsProps) {
  return (
    <ul aria-label="Connectors">
      {groups.map((group) => {
        const options = optionsFor(group, view, usual);
        return (
          <li key={group.key} className="border-b border-rule py-1.5 text-[14px]">
            <label className="flex items-center gap-2">
              <Mark kind={group.isSure ? 'within' : 'marginal'} />
              <span className="min-w-0 grow">
                <b className="font-mono text-[15px]">{group.connector}</b>{' '}
                <span className="text-ink-2">
                  {group.pins} {group.pins === 1 ? 'pin' : 'pins'}
                </span>
              </span>
              <Choose
                name={`Where is ${[group.board, group.connector].filter(Boolean).join(' ')}`}
                className="w-[190px] shrink-0"
                value={text(group.target)}
                options={options.map(([target, words]) => ({ value: text(target), words }))}
                onChange={(value) => {
                  const chosen = options.find(([target]) => text(target) === value);
                  if (chosen) {
                    say(group.key, chosen[0]);
                  }
                }}
              />
            </label>
            <span className="ml-[26px] block text-ink-2">
              {group.isSure ? '' : 'Look: '}
              {group.why}.
            </span>
          </li>
        );
      })}
    </ul>
  );
}

function optionsFor(group: SheetGroup, view: MachineSheetView, usual: UsualPart[]): [SheetTarget, string][] {
  const asked = (kind: SheetTarget['kind'], name = '', partKind: PartKind | null = null): SheetTarget => ({
    kind,
    id: '',
    name,
    partKind,
  });
  const named = group.board || group.connector;
  const boards = [
    ...new Set([named, ...view.groups.filter((g) => g.target.kind === 'newBoard').map((g) => g.target.name)]),
  ];
  const all: [SheetTarget, string][] = [
    [group.target, group.targetWords],
    ...view.choices.map((c): [SheetTarget, string] => [c.target, c.words]),
    ...boards.map((name): [SheetTarget, string] => [asked('newBoard', name), `new board: ${name}`]),
    ...usual.map((u): [SheetTarget, string] => [asked('newPart', named, u.kind), `no board: ${u.words}`]),
    [asked('leftOut'), 'leave it out'],
  ];
  return all.filter(([target], i) => all.findIndex(([t]) => text(t) === text(target)) === i);
}
