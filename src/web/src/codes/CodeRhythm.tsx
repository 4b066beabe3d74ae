import { useEffect, useState } from 'react';
import { type CodesFound } from '../api/generated';
import { Key } from '../ui/Key';
import { useKeys } from '../ui/useKeys';
import type { PartProps } from './CodeLook';

const listens = 250;

/** Counted, or tapped along: the ledger hears the groups and the rate. */
export function Rhythm({ asked, put, heard }: PartProps & { heard: CodesFound['rhythm'] }) {
  const [taps, setTaps] = useState<number[]>([]);
  const tap = () => setTaps((was) => [...was, performance.now() / 1000]);
  useEffect(() => {
    if (taps.length < 2) {
      return;
    }
    // While the hand still taps, nothing is asked.
    const wait = setTimeout(
      () => put({ taps: taps.map((t) => t - (taps[0] ?? 0)), count: null, pattern: null }),
      listens,
    );
    return () => clearTimeout(wait);
    // Only a tap asks anew.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [taps]);
  useKeys((key, event) => {
    // A button that has the hand is pressed by Space.
    if (key !== ' ' || (event.target instanceof Element && event.target.closest('button, a, [role=button]'))) {
      return false;
    }
    tap();
    return true;
  });
  return (
    <>
      {asked.kind !== 'ticks' && (
        <label className="mt-3 block">
          {asked.kind === 'beeps' ? 'How many beeps' : 'How many blinks before the pause'}
          <input
            className="field mt-0.5 block max-w-[120px] font-mono text-[24px]"
            inputMode="numeric"
            autoComplete="off"
            value={asked.count ?? ''}
            onChange={(event) => {
              setTaps([]);
              put({ count: Number(event.target.value) || null, taps: [], pattern: null });
            }}
          />
        </label>
      )}
      <p className="mt-3 font-bold">{asked.kind === 'ticks' ? 'Tap along with the ticks' : 'or tap along with it'}</p>
      <button
        type="button"
        className="mt-1 min-h-[110px] w-full cursor-pointer border-2 border-ink bg-paper text-[22px] font-bold select-none"
        onPointerDown={tap}
        onKeyDown={(event) => {
          if ((event.key === ' ' || event.key === 'Enter') && !event.repeat) {
            event.preventDefault();
            tap();
          }
        }}
      >
        Tap here <Key>Space</Key>
      </button>
      <p className="mt-1 min-h-[48px] text-[14px] text-ink-2" role="status" data-testid="heard">
        {taps.length > 0 && `${taps.length} taps. `}
        {heard && (
          <b className="text-[17px] text-ink">
            {heard.words}
            {heard.repeats > 1 && !heard.isEven ? `, heard ${heard.repeats} times` : ''}
          </b>
        )}
      </p>
    </>
  );
}
