import { type CircuitRow, type CircuitSheet, editCircuit } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { useSheet } from '../models/useSheet';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { CircuitGrid } from './CircuitGrid';
import { CircuitKnown } from './CircuitKnown';
import { SwitchTable } from './SwitchTable';
import { CircuitTabs, type CircuitViewProps } from './CircuitTabs';

interface CircuitTableProps extends CircuitViewProps {
  fresh: () => void;
}

/** What each part of a model is to the current, as a table; beside it what the ledger makes of it. */
export function CircuitTable({ tag, machine, circuit, tab, show, margin, fresh }: CircuitTableProps) {
  const { sheet, change, settle, kept } = useSheet<CircuitSheet>(
    `circuit/${circuit.modelId}`,
    circuit.version,
    circuit.sheet,
    async (version, next, client) => {
      const now = await ask(editCircuit({ client, path: { id: circuit.modelId }, body: { version, sheet: next } }));
      fresh();
      return { version: now.versionOfCircuit };
    },
  );
  const add = (row: Omit<CircuitRow, 'id'>) => settle({ ...sheet, rows: [...sheet.rows, { id: newId(), ...row }] });
  const others = circuit.others;
  return (
    <Frame
      tag={tag}
      title="Circuit"
      place={machine.name}
      margin={margin}
      marginLast
      leafName="As the ledger understands it"
      leaf={<CircuitKnown tag={tag} circuit={circuit} add={add} />}
    >
      <CircuitTabs tab={tab} show={show} />
      <p className="mt-2 text-[14px] text-ink-2">
        A row for each source, load and switch of {machine.model || 'this model'}
        {others.length > 0 && `, for ${others.join(', ')} as well`}. Wires, contacts and fuses are there already, from
        the wiring and the markings.
      </p>
      <CircuitGrid
        id={circuit.modelId}
        rows={sheet.rows}
        names={circuit.names}
        kinds={circuit.kinds}
        problems={circuit.problems}
        settle={(rows) => settle({ ...sheet, rows })}
      />
      {kept}
      {circuit.problems.length > 0 && (
        <ul className="mt-2 text-[14px]" aria-label="Rows that do not count">
          {circuit.problems.map((p) => (
            <li key={p.rowId + p.words} className="flex items-start gap-2 border-b border-rule py-1">
              <Mark kind="notJudged" />
              <span>
                <b className="text-out">Does not count:</b> {p.words}
              </span>
            </li>
          ))}
        </ul>
      )}
      {circuit.doubts.length > 0 && (
        <ul className="mt-2 text-[14px]" aria-label="What cannot be right as entered">
          {circuit.doubts.map((doubt) => (
            <li key={doubt} className="flex items-start gap-2 border-b border-rule py-1">
              <Mark kind="notJudged" />
              <span>
                <b className="text-out">A wire or a row is missing or wrong:</b> by what is entered, {doubt}. Nothing is
                proved by this wiring until it is put right.
              </span>
            </li>
          ))}
        </ul>
      )}
      <SwitchTable
        rows={sheet.rows}
        switching={circuit.switching}
        states={circuit.states}
        settle={(rows) => settle({ ...sheet, rows })}
      />
      <h2 className="title mt-6">How a state is reached</h2>
      <p className="text-[14px] text-ink-2">
        A line each, where a relay that holds itself needs an order. Straight from off where there is none. Such as{' '}
        <span className="font-mono">running after standby, start held</span>
      </p>
      <textarea
        aria-label="How a state is reached"
        className="field mt-1 font-mono text-[14px]"
        rows={Math.max(2, sheet.orders.length + 1)}
        value={sheet.orders.join('\n')}
        onChange={(event) => change({ ...sheet, orders: event.target.value.split('\n') })}
        onBlur={() => settle(sheet)}
      />
      <Notation />
    </Frame>
  );
}

/** How a row is written, for whoever does it for the first time. */
function Notation() {
  const examples: [string, string][] = [
    ['supply 24 V, at most 10 A', 'a power supply; its pins + and -'],
    ['mains 230 V', 'L and N; mains 400 V 3~ for three phases'],
    ['battery 12.9 V, inside 12 mΩ', ''],
    ['motor 24 V 2.2 A, winding 3.4 Ω', 'what it draws while it runs, and its ohms at rest'],
    ['lamp 24 V 5 W', 'or heater, coil, valve, sensor, horn, board, resistor 4k7'],
    ['LED green 24 V 8 mA', 'anode to cathode, its resistor counted in'],
    ['switch', 'closed in the states named; output for what a board switches'],
    ['relay 24 V 480 Ω', 'its coil; pulls in at 15 V, drops out at 5 V where that is known'],
    ['make contact of K1', 'or break contact of K1'],
    ['residual-current breaker 25 A, trips at 30 mA', 'in and out of each pole, the neutral’s too'],
    ['wire 1.5 mm² 12 m', 'between two pins that a wire joins already'],
    ['transformer 230 V to 24 V, 100 VA', 'both of the primary, then both of the secondary'],
    ['rectifier smoothed', 'both of its input, then + and -'],
    ['regulator 5 V, at most 0.5 A', 'input, output, return'],
  ];
  return (
    <details className="mt-5">
      <summary className="link min-h-[34px] cursor-pointer max-[899px]:min-h-[44px]">How a row is written</summary>
      <dl className="mt-1 text-[14px]">
        {examples.map(([text, words]) => (
          <div key={text} className="flex flex-wrap gap-x-4 border-b border-rule py-1">
            <dt className="font-mono">{text}</dt>
            <dd className="text-ink-2">{words}</dd>
          </div>
        ))}
        <div className="border-b border-rule py-1">
          <dt className="font-mono">Z*-F2, Z*-J4·1 to Z*-J4·2</dt>
          <dd className="text-ink-2">a star stands for every position of that beginning: Z1, Z2, Z3 …</dd>
        </div>
        <div className="border-b border-rule py-1">
          <dt className="font-mono">running if Z1-J1·1 to Z1-J1·2 &gt; 18 V</dt>
          <dd className="text-ink-2">
            what a board wants to see before it switches an output on; more of it with “and”, another way with “or”
          </dd>
        </div>
        <div className="border-b border-rule py-1">
          <dt className="font-mono">running after 3 s</dt>
          <dd className="text-ink-2">how long all of that must be so before it closes; it opens at once</dd>
        </div>
      </dl>
    </details>
  );
}
