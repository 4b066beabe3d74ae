import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useSearchParams } from 'react-router';
import { getCircuitReadings } from '../api/generated';
import { ask } from '../api/ledger';
import { Choose } from '../ui/Choose';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { CircuitTabs, type CircuitViewProps } from './CircuitTabs';
import { AnyTwo } from './AnyTwo';
import { FaultBox } from './FaultBox';
import { ReadingLeaf } from './ReadingLeaf';
import { ReadingTable } from './ReadingTable';

/** What every check should read by the circuit, and what it would read with a fault or another. */
export function WhatItReads({ tag, machine, circuit, tab, show, margin }: CircuitViewProps) {
  const [at, setAt] = useSearchParams();
  const [fault, other, state, chosen] = ['fault', 'other', 'state', 'check'].map((name) => at.get(name) ?? '') as [
    string,
    string,
    string,
    string,
  ];
  const go = (changes: Record<string, string>) =>
    setAt(
      (now) => {
        for (const [name, value] of Object.entries(changes)) {
          if (value) {
            now.set(name, value);
          } else {
            now.delete(name);
          }
        }
        return now;
      },
      { replace: true },
    );
  const readings = useQuery({
    queryKey: ['circuit', tag, 'readings', fault, other],
    queryFn: () => ask(getCircuitReadings({ path: { id: tag }, query: { fault, other } })),
    enabled: circuit.hasCircuit,
    placeholderData: keepPreviousData,
  });
  const rows = (readings.data?.rows ?? []).filter((r) => !state || r.state === state);
  const row = rows.find((r) => r.checkKey === chosen) ?? rows[0];
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'F9') {
        event.preventDefault();
        document.getElementById('fault-box')?.focus();
      }
    };
    // Before any field has it: a list of suggestions keeps its keys to itself.
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, []);
  const faults = readings.data?.faults ?? [];
  const wordsOf = (id: string) => faults.find((f) => f.id === id)?.words ?? '';
  const tells = readings.data?.tells;
  const contradictions = rows.filter((r) => r.contradiction).length;
  return (
    <Frame
      tag={tag}
      title="Circuit"
      place={machine.name}
      margin={margin}
      marginLast
      leafName="Why, and where it flows"
      leaf={
        row && (
          <ReadingLeaf
            tag={tag}
            machine={machine}
            row={row}
            fault={fault}
            faults={faults}
            onFault={(id) => go({ fault: id, other: '' })}
          />
        )
      }
    >
      <CircuitTabs tab={tab} show={show} />
      {!circuit.hasCircuit ? (
        <p className="mt-3 text-ink-2">
          No source is known yet.{' '}
          <button type="button" className="link" onClick={() => show('parts')}>
            Enter what the machine is made of
          </button>
          : one row for its supply, one for each load.
        </p>
      ) : (
        <>
          <div className="mt-2 flex flex-wrap items-end gap-x-4 gap-y-2">
            <FaultBox
              id="fault-box"
              label="What would it read if"
              keys="F9"
              faults={faults}
              value={fault}
              onChange={(id) => go({ fault: id, ...(id ? {} : { other: '' }), check: '' })}
            />
            {fault && (
              <FaultBox
                id="other-box"
                label="beside"
                faults={faults}
                value={other}
                onChange={(id) => go({ other: id, check: '' })}
              />
            )}
            <label className="text-[14px]">
              <span className="block text-ink-2">State</span>
              <Choose
                name="State"
                value={state}
                options={[
                  { value: '', words: 'all states' },
                  ...circuit.states.map((s) => ({ value: s.code, words: s.name })),
                ]}
                onChange={(next) => go({ state: next, check: '' })}
              />
            </label>
          </div>
          {(readings.data?.consequences ?? []).length > 0 && (
            <p className="mt-2">
              With it: <b>{readings.data?.consequences.join('; ')}</b>.
            </p>
          )}
          {other && (readings.data?.otherConsequences ?? []).length > 0 && (
            <p>
              With the other: <b>{readings.data?.otherConsequences.join('; ')}</b>.
            </p>
          )}
          {fault && readings.data && (
            <p className="mt-2 flex items-start gap-2 text-[17px]">
              <Mark kind={tells ? 'here' : 'notJudged'} />
              {tells ? (
                <span>
                  {other ? 'Told apart best at ' : 'Shows best at '}
                  <button
                    type="button"
                    className="link font-mono font-bold"
                    onClick={() => go({ check: tells.checkKey })}
                  >
                    {tells.red}
                    {tells.black && ` to ${tells.black}`}
                  </button>
                  , {tells.stateName}: <b className="font-mono">{tells.faulty?.words}</b> against{' '}
                  <b className="font-mono">{other ? tells.other?.words : tells.healthy}</b>
                  {other ? ` with ${wordsOf(other)}` : ' healthy'}.
                </span>
              ) : (
                `No check of this sheet tells ${wordsOf(fault)} from ${other ? wordsOf(other) : 'a healthy machine'}.`
              )}
            </p>
          )}
          {!fault && contradictions > 0 && (
            <p className="mt-2 flex items-start gap-2">
              <Mark kind="differs" />
              {contradictions} {contradictions === 1 ? 'check says' : 'checks say'} otherwise than the circuit: one of
              the two is wrong.
            </p>
          )}
          <Problem error={readings.error} />
          <ReadingTable
            rows={rows}
            chosen={row?.checkKey}
            hasFault={fault !== ''}
            hasOther={other !== ''}
            tag={tag}
            onChoose={(key) => go({ check: key })}
            isOld={readings.isPlaceholderData}
          />
          <AnyTwo tag={tag} circuit={circuit} fault={fault} state={state} />
          {readings.data && readings.data.unsaid > 0 && (
            <p className="py-2 text-[14px] text-ink-2">
              Of {readings.data.unsaid} more checks the circuit says nothing: their pins are in no row, or they are no
              volts and no ohms.
            </p>
          )}
        </>
      )}
    </Frame>
  );
}
