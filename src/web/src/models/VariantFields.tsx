import type { ModelPage, Variant, VariantRule } from '../api/generated';
import { More } from '../ui/More';
import { addressText, readAddress } from '../ui/address';
import { type Column, Rows } from './Rows';

const ruleColumns: Column<VariantRule>[] = [
  { name: 'from', label: 'Built from', kind: 'date' },
  { name: 'to', label: 'Built up to', kind: 'date' },
  { name: 'serialPrefix', label: 'Serial begins', kind: 'text' },
  { name: 'serialFrom', label: 'No. from', kind: 'number' },
  { name: 'serialTo', label: 'No. up to', kind: 'number' },
  { name: 'volts', label: 'Volts', kind: 'number' },
  { name: 'phases', label: 'Phases', kind: 'number' },
  { name: 'finish', label: 'Finish', kind: 'text' },
];

const freshRule = (): VariantRule => ({
  from: null,
  to: null,
  serialPrefix: '',
  serialFrom: null,
  serialTo: null,
  volts: null,
  phases: null,
  finish: '',
});

interface OneProps {
  model: ModelPage;
  variant: Variant;
  change: (variant: Variant) => void;
  settle: (variant: Variant) => void;
  strike: () => void;
}

export function One({ model, variant, change, settle, strike }: OneProps) {
  const positions = model.positions.map((p): [string, string] => [p.id, p.name]);
  const types = new Map(model.boardTypes.map((t) => [t.id, t.words]));
  const pins = model.pins.map((p): [string, string] => [addressText(p.address), `${p.printed} ${p.signal}`]);
  const overlay = variant.overlay.map((o) => ({ at: addressText(o.pin), label: o.label, meaning: o.meaning ?? '' }));
  const toOverlay = (rows: typeof overlay) =>
    rows.map((r) => ({ pin: readAddress(r.at) ?? {}, label: r.label, meaning: r.meaning }));
  // Boards are chosen one a line; a build names several of one position by several lines.
  const boards = variant.boards.flatMap((b) => b.boardTypes.map((type) => ({ position: b.position, type })));
  const toBoards = (rows: typeof boards) => {
    const names = [...new Set(rows.map((r) => r.position))];
    return names.map((position) => ({
      position,
      boardTypes: [...new Set(rows.filter((r) => r.position === position).map((r) => r.type))],
    }));
  };
  const protective = variant.protective.map((name) => ({ name }));
  const list = <Row extends object>(
    title: string,
    rows: Row[],
    columns: Column<Row>[],
    fresh: () => Row,
    to: (rows: Row[]) => Partial<Variant>,
    empty = 'None.',
  ) => (
    <Rows
      title={title}
      rows={rows}
      columns={columns}
      fresh={fresh}
      empty={empty}
      onChange={(next) => change({ ...variant, ...to(next) })}
      onSettle={(next) => settle({ ...variant, ...to(next) })}
    />
  );
  const where: Column<{ position: string }>[] = [
    { name: 'position', label: 'Board', kind: 'choice', options: positions },
  ];
  const first = positions[0]?.[0] ?? '';
  return (
    <fieldset className="mt-3 border-t-2 border-ink pt-1">
      <legend className="sr-only">{variant.name}</legend>
      <div className="flex flex-wrap items-end gap-3">
        <label className="min-w-[220px] flex-1 text-[14px]">
          Build
          <input
            className="field font-bold"
            defaultValue={variant.name}
            onBlur={(event) => event.target.value !== variant.name && settle({ ...variant, name: event.target.value })}
          />
        </label>
        <label className="text-[14px]">
          Supply on its plate
          <input
            className="field font-mono"
            defaultValue={variant.supply}
            onBlur={(event) =>
              event.target.value !== variant.supply && settle({ ...variant, supply: event.target.value })
            }
          />
        </label>
        <button
          type="button"
          className="link min-h-[38px] text-[14px]"
          aria-label={`Strike out the build ${variant.name}`}
          onClick={strike}
        >
          Strike out the build
        </button>
      </div>
      {list(
        'Rules',
        variant.rules,
        ruleColumns,
        freshRule,
        (rules) => ({ rules }),
        'No rule yet: this build is never chosen.',
      )}
      <More
        title={
          <span className="text-[14px]">
            What follows: boards {boards.length}, fuses {variant.fuses.length}, switches {variant.switches.length},
            settings {variant.settings.length}, protective devices {variant.protective.length}, terminals renamed{' '}
            {variant.overlay.length}, to order {variant.replacements.length}
          </span>
        }
        className="mt-1"
      >
        {positions.length === 0 && (
          <p className="text-[14px] text-ink-2">
            This model has no board yet; boards, fuses and settings can be named once it has.
          </p>
        )}
        {positions.length > 0 && (
          <>
            {list(
              'Boards that belong in it',
              boards,
              [
                ...(where as unknown as Column<(typeof boards)[number]>[]),
                { name: 'type', label: 'Board type', kind: 'choice', options: [...types] },
              ],
              () => ({ position: first, type: model.positions[0]?.boardTypeId ?? '' }),
              (rows) => ({ boards: toBoards(rows) }),
            )}
            {list(
              'Fuses',
              variant.fuses,
              [
                ...(where as unknown as Column<Variant['fuses'][number]>[]),
                { name: 'element', label: 'Fuse', kind: 'text' },
                { name: 'must', label: 'Rating', kind: 'text' },
              ],
              () => ({ position: first, element: 'F1', must: '' }),
              (fuses) => ({ fuses }),
            )}
            {list(
              'Jumpers and switches',
              variant.switches,
              [
                ...(where as unknown as Column<Variant['switches'][number]>[]),
                { name: 'element', label: 'Which', kind: 'text' },
                { name: 'must', label: 'Position', kind: 'text' },
              ],
              () => ({ position: first, element: 'JP1', must: '' }),
              (switches) => ({ switches }),
            )}
            {list(
              'Settings',
              variant.settings,
              [
                ...(where as unknown as Column<Variant['settings'][number]>[]),
                { name: 'code', label: 'Code', kind: 'text' },
                { name: 'value', label: 'Value', kind: 'text' },
              ],
              () => ({ position: first, code: '', value: '' }),
              (settings) => ({ settings }),
            )}
            {list(
              'Terminals printed otherwise',
              overlay,
              [
                { name: 'at', label: 'Terminal', kind: 'choice', options: pins, wide: true },
                { name: 'label', label: 'Printed here', kind: 'text' },
                { name: 'meaning', label: 'Does here, if other', kind: 'text', wide: true },
              ],
              () => ({ at: pins[0]?.[0] ?? '', label: '1', meaning: '' }),
              (rows) => ({ overlay: toOverlay(rows) }),
            )}
            {list(
              'To order',
              variant.replacements,
              [
                ...(where as unknown as Column<Variant['replacements'][number]>[]),
                { name: 'partNumber', label: 'Part number', kind: 'text' },
                { name: 'with', label: 'With it, by commas', kind: 'list', wide: true },
              ],
              () => ({ position: first, partNumber: '', with: [] }),
              (replacements) => ({ replacements }),
            )}
          </>
        )}
        {list(
          'Protective devices',
          protective,
          [{ name: 'name', label: 'Device', kind: 'text', wide: true }],
          () => ({ name: '' }),
          (rows) => ({
            protective: rows.map((r) => r.name),
          }),
        )}
      </More>
    </fieldset>
  );
}
