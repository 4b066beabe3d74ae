import { useQuery } from '@tanstack/react-query';
import { Fragment, type ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import {
  editWiring,
  getMachine,
  getModel,
  type ModelPage,
  type OperatingState,
  type PinAddress,
  type WiringReport,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { PlaceMargin } from '../machines/MachineMargin';
import { Rows } from '../models/Rows';
import { useSheet } from '../models/useSheet';
import { addressText } from '../ui/address';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { OpeningPage } from '../ui/OpeningPage';
import { MachineChecks, ModelChecks } from './Checks';
import { MachineOverrides } from './Overrides';
import { Parts } from './Parts';
import { PowerEnters } from './PowerEnters';
import { Wires } from './Wires';

/** What is not on a board, what joins everything, and the states it is measured in; beside it how the ledger understands it. */
export function WiringPage() {
  const { tag = '' } = useParams();
  const machine = useQuery({ queryKey: ['machine', tag], queryFn: () => ask(getMachine({ path: { id: tag } })) });
  const modelId = machine.data?.modelId;
  const model = useQuery({
    queryKey: ['model', modelId],
    queryFn: () => ask(getModel({ path: { id: modelId ?? '' } })),
    enabled: modelId !== undefined,
    staleTime: Infinity,
    refetchOnMount: 'always',
  });
  if (!machine.data || !model.data || !model.isFetchedAfterMount) {
    return <OpeningPage tag={tag} title="Wiring" words="Opening the wiring…" of={[machine, model]} />;
  }
  return (
    <Wiring
      tag={tag}
      machineId={machine.data.id}
      name={machine.data.name}
      model={model.data}
      fresh={() => void model.refetch()}
    />
  );
}

interface WiringProps {
  tag: string;
  machineId: string;
  name: string;
  model: ModelPage;
  fresh: () => void;
}

function Wiring({ tag, machineId, name, model, fresh }: WiringProps) {
  const { sheet, change, settle, kept } = useSheet(
    `wiring/${model.id}`,
    model.versionOfWiring,
    model.wiring,
    async (version, next, client) => {
      const now = await ask(editWiring({ client, path: { id: model.id }, body: { version, sheet: next } }));
      fresh();
      return { version: now.versionOfWiring };
    },
  );
  const called = new Map(model.pins.map((p) => [p.printed, p.address]));
  /** Of pins off the boards: whether power enters there. */
  const sources = (pins: PinAddress[], isSource: boolean) => {
    const ends = new Set(pins.map(addressText));
    settle({
      ...sheet,
      parts: sheet.parts.map((part) => ({
        ...part,
        pins: part.pins.map((p) => (ends.has(addressText({ part: part.id, pin: p.id })) ? { ...p, isSource } : p)),
      })),
    });
  };
  const mend: Mend = {
    // Between them, or away from them, power has no direction that would be looked for.
    undirect: (pins, within) => {
      const ends = new Set(pins.flatMap((p) => called.get(p) ?? []).map(addressText));
      const is = (at: PinAddress) => ends.has(addressText(at));
      settle({
        ...sheet,
        wires: sheet.wires.map((w) =>
          is(w.from) && (!within || is(w.to)) && w.directed ? { ...w, directed: false } : w,
        ),
      });
    },
    enter: (pins) => {
      sources(
        pins.flatMap((p) => called.get(p) ?? []),
        true,
      );
    },
    canUndirect: (pins) => {
      const ends = new Set(pins.flatMap((p) => called.get(p) ?? []).map(addressText));
      return sheet.wires.some((w) => w.directed && ends.has(addressText(w.from)));
    },
    canEnter: (pins) => pins.some((p) => called.get(p)?.part !== undefined),
  };
  const others = model.machines.filter((m) => m.tag !== tag);
  return (
    <Frame
      tag={tag}
      title="Wiring"
      place={name}
      margin={<PlaceMargin tag={tag} />}
      marginLast
      leafName="As the ledger understands it"
      leaf={
        <Understood report={model.wiringReport} mend={mend}>
          <PowerEnters
            model={model}
            pins={model.pins}
            say={(pin, enters) => sources([pin.address], enters)}
            told={fresh}
          />
        </Understood>
      }
    >
      <div className="flex flex-wrap items-baseline gap-4">
        <h2 className="title grow">What joins the boards</h2>
        {kept}
      </div>
      <p className="text-[14px] text-ink-2">
        {others.length === 0
          ? `Of this model; ${tag} is the only machine of it here.`
          : `Of the model, so also of ${others.map((m) => m.tag).join(', ')}.`}
        {model.positions.length === 0 && (
          <>
            {' '}
            It has no board yet:{' '}
            <Link className="link" to={`/machines/${encodeURIComponent(tag)}`}>
              add one on the page of {tag}
            </Link>
            .
          </>
        )}{' '}
        <Link className="link" to={`/machines/${encodeURIComponent(tag)}/sheet`}>
          Take boards, pins and wires from a sheet
        </Link>
      </p>
      <Parts
        usual={model.usualParts}
        parts={sheet.parts}
        prefixes={model.positions.map((p) => p.prefix)}
        change={(parts) => change({ ...sheet, parts })}
        settle={(parts) => settle({ ...sheet, parts })}
      />
      <Wires
        machineId={machineId}
        modelId={model.id}
        positions={model.positions}
        // What was typed a moment ago can be joined before the ledger has it.
        pins={[
          ...model.pins.filter((p) => p.address.part === undefined),
          ...sheet.parts.flatMap((part) =>
            part.pins.map((p) => ({
              address: { part: part.id, pin: p.id },
              printed: `${part.designator}·${p.label}`,
              signal: p.signal || part.name,
            })),
          ),
        ]}
        wires={sheet.wires}
        settle={(wires) => settle({ ...sheet, wires })}
      />
      <Rows
        title="States it is measured in"
        rows={sheet.states}
        columns={[
          { name: 'name', label: 'State', kind: 'text', wide: true },
          { name: 'energised', label: 'Energised', kind: 'check' },
        ]}
        fresh={(): OperatingState => ({ code: newId(), name: '', energised: true })}
        empty="None yet."
        onChange={(states) => change({ ...sheet, states })}
        onSettle={(states) => settle({ ...sheet, states })}
      />
      <ModelChecks model={model} />
      <MachineChecks tag={tag} id={machineId} states={sheet.states.map((s) => s.name)} />
      <MachineOverrides tag={tag} id={machineId} />
    </Frame>
  );
}

/** Where a branch leaves the one before it: the place of the last pin they share; 0 where they share none. */
const forkOf = (before: string[], pins: string[]): number => {
  const differs = pins.findIndex((pin, i) => before[i] !== pin);
  return Math.max(0, differs - 1);
};

/** What puts right what cannot be right as entered, one key each. */
interface Mend {
  undirect: (pins: string[], within: boolean) => void;
  enter: (pins: string[]) => void;
  canUndirect: (pins: string[]) => boolean;
  canEnter: (pins: string[]) => boolean;
}

/** The branches of the power path, drawn by themselves, and what cannot be right as entered. */
function Understood({ report, mend, children }: { report: WiringReport; mend: Mend; children: ReactNode }) {
  const open = report.toMend.length + report.doubts.length;
  return (
    <>
      <h2 className="border-b border-rule-2 pb-1">The path, as the ledger understands it</h2>
      {children}
      <ol aria-label="Branches">
        {report.branches.map(({ pins, byCircuit }, b) => {
          const from = forkOf(report.branches[b - 1]?.pins ?? [], pins);
          return (
            <li key={pins.join()} className="border-b border-rule py-1 font-mono text-[14px] leading-snug">
              {from > 0 && <span className="font-sans text-ink-2">from </span>}
              {pins.slice(from).map((pin, i) => (
                <Fragment key={pin}>
                  {i > 0 && <span className="text-ink-2"> › </span>}
                  <span className="whitespace-nowrap">{pin}</span>
                </Fragment>
              ))}
              {byCircuit.length > 0 && (
                <p className="font-sans text-[13px] text-ink-2">
                  Nobody entered the way to {byCircuit.join(', ')}: the circuit says it.
                </p>
              )}
            </li>
          );
        })}
      </ol>
      <h2 className="mt-4 flex justify-between border-b border-rule-2 pb-1">
        To mend <span className="font-mono font-normal">{open}</span>
      </h2>
      {open === 0 && <p className="py-1 text-[14px] text-ink-2">Nothing that the wiring itself would tell.</p>}
      <ul className="text-[14px]">
        {report.toMend.map(({ kind, words, pins }) => (
          <li key={words} className="flex items-start gap-2 border-b border-rule py-1">
            <Mark kind={kind === 'unreachable' ? 'untouched' : 'marginal'} />
            <span className="min-w-0 break-words">
              {words}
              {kind !== 'unreachable' && (
                <span className="flex flex-wrap gap-x-5">
                  {mend.canUndirect(pins) && (
                    <button
                      type="button"
                      className="link min-h-[32px] max-[899px]:min-h-[44px]"
                      aria-label={`No direction: ${pins.join(', ')}`}
                      onClick={() => mend.undirect(pins, kind === 'loop')}
                    >
                      It has no direction
                    </button>
                  )}
                  {kind === 'danglingFeed' && mend.canEnter(pins) && (
                    <button
                      type="button"
                      className="link min-h-[32px] max-[899px]:min-h-[44px]"
                      aria-label={`Power enters at ${pins.join(', ')}`}
                      onClick={() => mend.enter(pins)}
                    >
                      Power enters there
                    </button>
                  )}
                </span>
              )}
            </span>
          </li>
        ))}
        {report.doubts.map((d) => (
          <li key={`${d.from}${d.to}`} className="flex items-start gap-2 border-b border-rule py-1">
            <Mark kind="differs" />
            <span className="min-w-0">
              {d.fromColours} at <b className="font-mono">{d.from}</b> is {d.toColours} at{' '}
              <b className="font-mono">{d.to}</b>: a colour is misread, or it is another wire.
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
