import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { listMeters, type MeterView, type RoundView, type RowView } from '../api/generated';
import { ask } from '../api/ledger';
import { nameMeter, useMeterName } from '../people/person';
import { Choose } from '../ui/Choose';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { useDraft } from '../ui/useDraft';
import { useKeys } from '../ui/useKeys';

const useMeters = (): { meters: MeterView[]; isPending: boolean } => {
  const { data, isPending } = useQuery({ queryKey: ['meters'], queryFn: () => ask(listMeters()), staleTime: 60_000 });
  return { meters: data ?? [], isPending };
};

const sameName = (one: string, other: string) => one.toLowerCase() === other.toLowerCase();

/** Which meter is in the hand: what it can know is counted in each verdict, and its category is asked for once. */
export function MeterChoice({ done }: { done: () => void }) {
  const { meters } = useMeters();
  const name = useMeterName();
  const box = useRef<HTMLDivElement>(null);
  // Chosen by its first letters, and said only once the hand goes on: what is asked of a meter must not take the letters.
  const [begun, setBegun] = useState<string | null>(null);
  const say = (chosen: string | null) => {
    if (chosen !== null) {
      nameMeter(chosen);
    }
    setBegun(null);
  };
  useKeys((key) => {
    if (key === 'Alt T') {
      box.current?.querySelector('button')?.focus();
      return true;
    }
    return false;
  });
  const known = meters.find((m) => sameName(m.name, name));
  return (
    <div
      ref={box}
      onKeyDownCapture={(event) => {
        // Its first letters chose it; Enter leads the hand back to the number.
        if (event.key === 'Enter' && event.target instanceof Element && event.target.ariaExpanded !== 'true') {
          event.preventDefault();
          event.stopPropagation();
          say(begun);
          done();
        }
      }}
      onBlur={() => say(begun)}
    >
      <label className="block">
        <span className="flex items-center justify-between">
          Meter in the hand <Key>Alt T</Key>
        </span>
        <Choose
          className="mt-0.5 w-full"
          value={begun ?? known?.name ?? name}
          options={[
            { value: '', words: 'not said' },
            ...(name !== '' && !known ? [{ value: name, words: `${name}, not described` }] : []),
            ...meters.map((m) => ({ value: m.name, words: m.name })),
          ]}
          onChange={(chosen) => {
            if (box.current?.querySelector('[aria-expanded=true]')) {
              say(chosen);
              done();
            } else {
              setBegun(chosen);
            }
          }}
        />
      </label>
      {known && <p className="mt-0.5 leading-tight text-ink-2">{known.words}</p>}
    </div>
  );
}

/** Whether the meter must be asked about before a check at line voltage: once a round, unless it is known to do. */
export function useLineVoltage(view: RoundView, row: RowView | undefined) {
  const { meters, isPending } = useMeters();
  const name = useMeterName();
  const [said, setSaid] = useDraft(`category/${view.id}`);
  const known = meters.find((m) => sameName(m.name, name));
  const volts = row?.lineVolts ?? null;
  const does = known !== undefined && volts !== null && known.lineVolts >= volts;
  return {
    // While it is not known what the meter is made for, nothing is asked that may be known in a moment.
    isAsked: volts !== null && !does && !(isPending && name !== '') && said !== (name || 'some meter'),
    known,
    volts,
    allow: () => setSaid(name || 'some meter'),
  };
}

/** Asked once a round, before the first check at line voltage. */
export function LineVoltage({ asks }: { asks: ReturnType<typeof useLineVoltage> }) {
  const { known, volts, allow } = asks;
  const isTooWeak = known !== undefined;
  return (
    <form
      role="alert"
      data-testid="category"
      className="settle border-2 border-out px-4 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        allow();
      }}
    >
      <p className="flex items-center gap-2 text-[19px] font-bold text-out">
        <Mark kind="high" /> Line voltage, {volts} V:{' '}
        {isTooWeak ? `the ${known.name} is not made for it.` : 'is the meter made for it?'}
      </p>
      <p className="text-[14px] text-ink-2">
        {isTooWeak ? `It says ${known.words}. ` : ''}Leads and meter of category III or IV, for these volts and more;
        your local code decides.
      </p>
      <div className="mt-1 flex flex-wrap gap-3">
        <button type="submit" className={isTooWeak ? 'quiet' : 'action'} autoFocus={!isTooWeak}>
          {isTooWeak ? 'Another meter is in the hand' : 'It is, go on'} <Key>Enter</Key>
        </button>
        <span className="self-center text-[14px] text-ink-2">
          <Key>Alt T</Key> says which meter it is
        </span>
      </div>
    </form>
  );
}
