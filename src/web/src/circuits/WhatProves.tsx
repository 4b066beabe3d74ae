import { useQuery } from '@tanstack/react-query';
import { getCircuitProofs } from '../api/generated';
import { ask } from '../api/ledger';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { CircuitTabs, type CircuitViewProps } from './CircuitTabs';

/** What each lamp proves and does not, and what each fuse takes with it: all of it from the circuit. */
export function WhatProves({ tag, machine, circuit, tab, show, margin }: CircuitViewProps) {
  const proofs = useQuery({
    queryKey: ['circuit', tag, 'proofs'],
    queryFn: () => ask(getCircuitProofs({ path: { id: tag } })),
    enabled: circuit.hasCircuit,
  });
  return (
    <Frame tag={tag} title="Circuit" place={machine.name} margin={margin} marginLast>
      <CircuitTabs tab={tab} show={show} />
      <Problem error={proofs.error} />
      {circuit.hasCircuit && proofs.isPending && <p className="mt-3 text-ink-2">Going through every fault…</p>}
      {!circuit.hasCircuit && <p className="mt-3 text-ink-2">No source is known yet: nothing can be worked out.</p>}
      {proofs.data && (
        <>
          <h2 className="title mt-3">What a lit lamp proves</h2>
          {proofs.data.lamps.length === 0 && (
            <p className="text-ink-2">No lamp has a row yet: an LED or a lamp with its volts and current.</p>
          )}
          {proofs.data.lamps.map((lamp) => (
            <section key={lamp.lamp} aria-label={lamp.lamp} className="border-b border-rule py-2">
              <h3 className="flex flex-wrap items-baseline gap-x-3">
                <span className="font-mono text-[17px] font-bold">{lamp.lamp}</span>
                <span className="text-[14px] text-ink-2">
                  {lamp.states.length > 0 ? `lit in ${lamp.states.join(', ')}` : 'lit in no state'}
                </span>
              </h3>
              <div className="gap-x-8 min-[900px]:grid min-[900px]:grid-cols-2">
                <div className="mt-1 flex items-start gap-2">
                  <Mark kind="within" />
                  <p>
                    Lit, it proves:{' '}
                    <span className="font-mono text-[14px]">
                      {lamp.proves.length > 0 ? lamp.proves.join(', ') : 'nothing but itself'}
                    </span>
                  </p>
                </div>
                <div className="mt-1 flex items-start gap-2">
                  <Mark kind="marginal" />
                  <div>
                    <p>Lit all the same while dead may be:</p>
                    <ul className="font-mono text-[14px]">
                      {lamp.provesNot.length === 0 && <li>nothing that this circuit knows</li>}
                      {lamp.provesNot.map((words) => (
                        <li key={words}>{words}</li>
                      ))}
                    </ul>
                  </div>
                </div>
              </div>
            </section>
          ))}
          <h2 className="title mt-6">What a blown fuse takes with it</h2>
          <table className="mt-1 w-full" aria-label="What a blown fuse takes with it">
            <tbody>
              {proofs.data.fuses.map((fuse) => (
                <tr key={fuse.fuse} className="border-b border-rule align-top">
                  <th scope="row" className="w-[140px] py-1 text-left font-mono">
                    {fuse.fuse}
                  </th>
                  <td className="py-1 font-mono text-[14px]">
                    {fuse.takes.length > 0 ? fuse.takes.join(', ') : 'nothing that draws a current here'}
                  </td>
                  <td className="py-1 pl-4 text-right text-[14px] text-ink-2">
                    {fuse.states.length > 0 ? `carries current in ${fuse.states.join(', ')}` : 'carries no current'}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {proofs.data.fuses.length === 0 && <p className="text-ink-2">No fuse is known yet.</p>}
        </>
      )}
    </Frame>
  );
}
