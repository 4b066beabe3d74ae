import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import {
  type CircuitFaultView,
  type CircuitReadingView,
  type CircuitStepView,
  getCircuitState,
  type MachinePage,
} from '../api/generated';
import { ask } from '../api/ledger';
import { BoardMap } from '../boards/BoardMap';
import { useFacing } from '../boards/facing';
import { useBoardMap } from '../boards/useBoardMap';
import { Mark } from '../ui/Mark';
import { Tabs } from '../ui/Tabs';
import { FaultsAt } from './FaultsAt';
import { flowsOn } from './flows';
import { TakeComputed } from './TakeComputed';

interface ReadingLeafProps {
  tag: string;
  machine: MachinePage;
  row: CircuitReadingView;
  /** Id of the chosen one; empty for a healthy machine. */
  fault: string;
  faults: CircuitFaultView[];
  onFault: (id: string) => void;
}

type Leaf = 'way' | 'map' | 'why';

/** One reading: the way its current takes, the board with its volts, and why it is what it is. */
export function ReadingLeaf({ tag, machine, row, fault, faults, onFault }: ReadingLeafProps) {
  const [tab, setTab] = useState<Leaf>('way');
  const [place, setPlace] = useState('');
  const faultWords = faults.find((f) => f.id === fault)?.words ?? '';
  const state = useQuery({
    queryKey: ['circuit', tag, 'state', row.state, fault, row.checkKey],
    queryFn: () => ask(getCircuitState({ path: { id: tag }, query: { state: row.state, fault, check: row.checkKey } })),
    placeholderData: keepPreviousData,
  });
  const red = state.data?.pins.find((p) => p.printed === row.red)?.address;
  const facing = useFacing(machine.id, red?.position ?? machine.boards[0]?.positionId);
  const map = useBoardMap(machine.id, red?.position ?? machine.boards[0]?.positionId, facing.facing);
  // Parts of a board are printed with its position before them, as its pins are.
  const printedOf = (designator: string) => {
    const element = row.red.slice(0, row.red.lastIndexOf('·'));
    const own = map.data?.elements.find((e) => element === e.designator || element.endsWith(`-${e.designator}`));
    return own ? element.slice(0, element.length - own.designator.length) + designator : designator;
  };
  return (
    <>
      <p className="font-mono text-[17px] font-bold">
        {row.red}
        {row.black && ` to ${row.black}`}
      </p>
      <p className="text-[14px] text-ink-2">
        {[row.signal, row.stateName, row.plugged === false ? 'unplugged' : ''].filter(Boolean).join(', ')}
        {faultWords && `; with ${faultWords}`}
      </p>
      <p className="mt-1 font-mono text-[38px] leading-tight font-bold">{fault ? row.faulty?.words : row.healthy}</p>
      <TakeComputed tag={tag} machineId={machine.id} row={row} />
      <Tabs
        name="Of this reading"
        value={tab}
        tabs={[
          ['way', 'The way'],
          ['map', 'The board'],
          ['why', 'Why?'],
        ]}
        onChange={setTab}
        className="mt-2 border-b border-rule-2"
      />
      {tab === 'why' ? (
        <Why row={row} />
      ) : state.data?.problem ? (
        <p className="mt-2 flex items-start gap-2">
          <Mark kind="notJudged" /> {state.data.problem}
        </p>
      ) : tab === 'way' ? (
        <>
          <Way title="From the source" steps={state.data?.supply ?? []} />
          <Way title="Back to the source" steps={state.data?.return ?? []} />
          {state.data && state.data.supply.length < 2 && state.data.return.length < 2 && (
            <p className="mt-2 text-ink-2">
              {state.data.supply.length + state.data.return.length > 0
                ? 'Here the source itself is read.'
                : 'No source leads here.'}
            </p>
          )}
          {state.data?.restsAfter && (
            <p className="mt-2 text-[14px] text-ink-2">
              At rest {state.data.restsAfter} after it was switched to {row.stateName}.
            </p>
          )}
          {(state.data?.notPredicted ?? []).length > 0 && (
            <p className="mt-2 text-[14px] text-ink-2">
              {state.data?.notPredicted.join(', ')}: chopped by a junction. What flows there is no sine and is not
              predicted.
            </p>
          )}
        </>
      ) : map.data && red?.position ? (
        <>
          <p className="mt-2 text-[14px] text-ink-2">
            {map.data.positionName}, {map.data.facingWords}. The thicker the line, the more flows; a cross is where it
            stops; a pin without a number floats. Press a part or a pin to put a fault there.
          </p>
          <BoardMap
            map={map.data}
            red={red.pin}
            flows={flowsOn(state.data, red.position)}
            onPick={(pin) => setPlace(pin.printed)}
            onPickElement={(element) => setPlace(printedOf(element.designator))}
            className="mt-1 max-h-[420px] w-full"
          />
          {place && <FaultsAt place={place} faults={faults} fault={fault} onFault={onFault} />}
        </>
      ) : (
        <p className="mt-2 text-ink-2">{row.red} is on no board.</p>
      )}
    </>
  );
}

function Way({ title, steps }: { title: string; steps: CircuitStepView[] }) {
  if (steps.length < 2) {
    return null;
  }
  return (
    <section aria-label={title}>
      <h3 className="mt-3 text-[15px] text-ink-2">{title}</h3>
      <ol>
        {steps.map((step, at) => (
          <li key={at} className="text-[14px]">
            {at > 0 && (
              <span className="flex items-center gap-2 pl-[6px]">
                <span
                  aria-hidden="true"
                  className={`block h-[22px] ${
                    step.stops
                      ? 'border-l-[3px] border-dashed border-out'
                      : step.flows
                        ? 'border-l-[4px] border-ink'
                        : 'border-l-[2px] border-rule-2'
                  }`}
                />
                <span className={step.stops ? 'font-bold text-out' : 'text-ink-2'}>
                  {step.stops && 'stops: '}
                  {step.through} <span className="font-mono">{step.stops ? '' : step.amps}</span>
                </span>
              </span>
            )}
            <span className="flex justify-between gap-3">
              <span className="font-mono">{step.place}</span>
              <span className="font-mono font-bold">{step.volts}</span>
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}

function Why({ row }: { row: CircuitReadingView }) {
  return (
    <div className="mt-2 text-[14px]">
      {row.band && (
        <p>
          Healthy <b className="font-mono">{row.healthy}</b>; nineteen in twenty such machines read{' '}
          <b className="font-mono">{row.band}</b>, and with everything off the same way at once{' '}
          <span className="font-mono">{row.worst}</span>.
        </p>
      )}
      {row.because.length > 0 ? (
        <>
          <h3 className="mt-2 text-[15px] text-ink-2">What moves it most</h3>
          <ul>
            {row.because.map((b) => (
              <li key={b.part + b.number} className="flex justify-between gap-3 border-b border-rule py-1">
                <span>
                  <span className="font-mono font-bold">{b.part}</span> {b.number}{' '}
                  <span className="font-mono">{b.written}</span>
                  {b.from === 'assumed' && ', assumed'}
                  {b.from === 'marking' && ', marked'}: {b.spread} % more
                </span>
                <span className="font-mono font-bold whitespace-nowrap">{b.change}</span>
              </li>
            ))}
          </ul>
        </>
      ) : (
        <p className="text-ink-2">No number of the circuit moves it.</p>
      )}
      {row.otherwise && (
        <p className="mt-2 flex items-start gap-2">
          <Mark kind="marginal" /> {row.otherwise}
        </p>
      )}
    </div>
  );
}
