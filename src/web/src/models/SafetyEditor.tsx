import { addressText, readAddress } from '../ui/address';
import type {
  Caution,
  CautionWhen,
  EnergySource,
  Interlock,
  InterlockKind,
  ModelPage,
  SafetySheet,
  SourceKind,
} from '../api/generated';
import { newId } from '../api/newId';
import { Tick } from '../ui/Tick';
import { type Column, Rows } from './Rows';

const sources: [SourceKind, string][] = [
  ['mains', 'mains'],
  ['battery', 'battery'],
  ['generator', 'generator'],
  ['solar', 'solar'],
  ['controlVoltage', 'another panel’s control voltage'],
  ['gas', 'gas'],
  ['water', 'water'],
  ['gravity', 'gravity'],
  ['spring', 'spring'],
  ['pressure', 'pressure'],
  ['heat', 'heat'],
];
const interlocks: [InterlockKind, string][] = [
  ['overTemperature', 'over-temperature'],
  ['flow', 'flow'],
  ['flame', 'flame'],
  ['gas', 'gas'],
  ['entrapment', 'entrapment'],
  ['stop', 'stop'],
  ['guard', 'guard'],
];
const whens: [CautionWhen, string][] = [
  ['always', 'always'],
  ['live', 'while live'],
  ['notProvedDead', 'until proved dead'],
  ['provedDead', 'once proved dead'],
];

/** A protective device with its two sides as the choices hold them. */
interface Device extends Interlock {
  a: string | null;
  b: string | null;
}

interface SafetyEditorProps {
  model: ModelPage;
  sheet: SafetySheet;
  change: (sheet: SafetySheet) => void;
  settle: (sheet: SafetySheet) => void;
}

/** What can hurt at a model: sources, stored charge, run-on, protective devices, and what to say of them. */
export function SafetyEditor({ model, sheet, change, settle }: SafetyEditorProps) {
  const pins = model.pins.map((p): [string, string] => [addressText(p.address), `${p.printed} ${p.signal}`]);
  const list = <Row extends object>(
    title: string,
    rows: Row[],
    columns: Column<Row>[],
    fresh: () => Row,
    to: (rows: Row[]) => Partial<SafetySheet>,
    empty = 'None.',
  ) => (
    <Rows
      title={title}
      rows={rows}
      columns={columns}
      fresh={fresh}
      empty={empty}
      onChange={(next) => change({ ...sheet, ...to(next) })}
      onSettle={(next) => settle({ ...sheet, ...to(next) })}
    />
  );
  const devices: Device[] = sheet.interlocks.map((i) => ({
    ...i,
    a: i.from && addressText(i.from),
    b: i.to && addressText(i.to),
  }));
  return (
    <>
      {list(
        'Sources',
        sheet.sources,
        [
          { name: 'kind', label: 'Kind', kind: 'choice', options: sources },
          { name: 'name', label: 'Name', kind: 'text' },
          { name: 'isolation', label: 'Isolated at', kind: 'text', wide: true },
          { name: 'volts', label: 'Volts', kind: 'number' },
          { name: 'conductors', label: 'Conductors', kind: 'list' },
          { name: 'hasEarth', label: 'Earth', kind: 'check' },
          { name: 'othersCanRestore', label: 'Lock', kind: 'check' },
          { name: 'release', label: 'What is stored is let go by', kind: 'text', wide: true },
        ],
        (): EnergySource => ({
          id: newId(),
          kind: 'mains',
          name: 'the mains',
          isolation: '',
          volts: 230,
          conductors: ['L', 'N'],
          hasEarth: true,
          othersCanRestore: true,
          release: '',
        }),
        (rows) => ({ sources: rows }),
        'None written down: one supply of two conductors and earth is taken as given.',
      )}
      {list(
        'Stored charge',
        sheet.charges,
        [
          { name: 'name', label: 'Capacitor', kind: 'text', wide: true },
          { name: 'microfarads', label: 'µF', kind: 'number' },
          { name: 'capacitanceTolerancePercent', label: '± % of it', kind: 'number' },
          { name: 'bleedOhms', label: 'Bleed, Ω', kind: 'number' },
          { name: 'bleedTolerancePercent', label: '± % of that', kind: 'number' },
          { name: 'volts', label: 'Volts', kind: 'number' },
          {
            name: 'sourceId',
            label: 'Charged from',
            kind: 'choice',
            options: sheet.sources.map((s) => [s.id, s.name]),
          },
        ],
        () => ({
          id: newId(),
          name: 'capacitor',
          microfarads: 100,
          capacitanceTolerancePercent: 20,
          bleedOhms: null,
          bleedTolerancePercent: 5,
          volts: 325,
          sourceId: sheet.sources[0]?.id ?? 'supply',
        }),
        (charges) => ({ charges }),
      )}
      {list(
        'Run-on',
        sheet.runOns,
        [
          { name: 'name', label: 'What runs on', kind: 'text' },
          { name: 'minutes', label: 'Minutes', kind: 'number' },
          { name: 'words', label: 'What to do, and what not yet', kind: 'text', wide: true },
        ],
        () => ({ id: newId(), name: 'fan', minutes: 5, words: '' }),
        (runOns) => ({ runOns }),
      )}
      {list(
        'Protective devices, never bypassed',
        devices,
        [
          { name: 'kind', label: 'Kind', kind: 'choice', options: interlocks },
          { name: 'name', label: 'Name', kind: 'text', wide: true },
          { name: 'a', label: 'One side', kind: 'choiceOrNone', options: pins },
          { name: 'b', label: 'Other side', kind: 'choiceOrNone', options: pins },
          { name: 'equivalentTest', label: 'The test that leaves it in', kind: 'text', wide: true },
        ],
        (): Device => ({
          id: newId(),
          kind: 'stop',
          name: 'stop',
          from: null,
          to: null,
          equivalentTest: '',
          a: null,
          b: null,
        }),
        (rows) => ({
          interlocks: rows.map(({ id, kind, name, equivalentTest, a, b }) => ({
            id,
            kind,
            name,
            equivalentTest,
            from: readAddress(a),
            to: readAddress(b),
          })),
        }),
      )}
      {list(
        'Cautions, one short sentence each',
        sheet.cautions,
        [
          { name: 'words', label: 'Sentence', kind: 'text', wide: true },
          { name: 'when', label: 'Said', kind: 'choice', options: whens },
        ],
        (): Caution => ({ words: '', when: 'always' }),
        (cautions) => ({ cautions }),
      )}
      <div className="mt-2 flex flex-wrap items-end gap-4">
        <label className="min-w-[260px] flex-1 text-[14px]">
          Lives rest on it: this machine …
          <input
            className="field"
            placeholder="such as: lets people out in a fire; empty where none do"
            defaultValue={sheet.lifeSafety}
            onBlur={(event) =>
              event.target.value !== sheet.lifeSafety && settle({ ...sheet, lifeSafety: event.target.value })
            }
          />
        </label>
        <Tick
          className="inline-flex min-h-[44px] text-[14px]"
          on={sheet.wetPlace}
          set={(on) => settle({ ...sheet, wetPlace: on })}
        >
          it stands in a wet place
        </Tick>
        <Tick
          className="inline-flex min-h-[44px] text-[14px]"
          on={sheet.immersed ?? false}
          set={(on) => settle({ ...sheet, immersed: on })}
        >
          people are in its water
        </Tick>
        <Tick
          className="inline-flex min-h-[44px] text-[14px]"
          on={sheet.hasNoSupply ?? false}
          set={(on) => settle({ ...sheet, hasNoSupply: on })}
        >
          nothing electrical feeds it
        </Tick>
      </div>
    </>
  );
}
