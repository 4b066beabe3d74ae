import { type Query, useQueryClient } from '@tanstack/react-query';
import { useEffect, useEffectEvent, useState } from 'react';
import { Link } from 'react-router';
import { onTaken, useOutbox, useStranger } from './outbox';

const patience = 900;

/** One line while something waits on this device; gone when the ledger has it all. */
export function Waiting() {
  const parcels = useOutbox();
  const stranger = useStranger();
  const queries = useQueryClient();
  useEffect(
    () =>
      onTaken((parcel, _, isOpen) => {
        // A reading's answer is the whole round, and a form that is open has its own; what else they may change, their pages ask for.
        if (parcel.roundId !== undefined || isOpen) {
          return;
        }
        const told = {
          predicate: (q: Query) => !['round', 'map', 'fault', 'people'].includes(String(q.queryKey[0])),
        };
        // A first answer that is still on its way may be from before the arrival, and would pass for the newest.
        void queries.cancelQueries(told).then(() => queries.invalidateQueries(told));
      }),
    [queries],
  );
  // What goes at once is not worth a word, and would make the page jump with every reading.
  const isAny = parcels.length > 0;
  // Late is what was made a while ago, on whichever page: a page that opens anew does not hide it for a moment.
  const oldest = isAny ? Math.min(...parcels.map((p) => p.order)) : Infinity;
  const [isLate, setIsLate] = useState(() => Date.now() - oldest > patience);
  const wait = useEffectEvent(() => Math.max(0, isAny ? oldest + patience - Date.now() : 0));
  useEffect(() => {
    const timer = setTimeout(() => setIsLate(isAny), wait());
    return () => clearTimeout(timer);
  }, [isAny]);
  const refused = parcels.filter((p) => p.refused).length;
  const unstored = parcels.filter((p) => p.unstored === 'full').length;
  if (!isAny || !(isLate || refused > 0 || stranger)) {
    return null;
  }
  return (
    <p role="status" className="flex flex-wrap items-center gap-x-3 bg-rust-wash px-5 py-1 text-[14px]">
      <span>
        <b>{parcels.length === 1 ? '1 thing waits' : `${parcels.length} things wait`} on this device.</b>{' '}
        {refused > 0 && `${refused} refused. `}
        {unstored > 0
          ? `${unstored} of them not stored, this device takes no more: leave the page open until they are sent. ${stranger}`
          : stranger
            ? `${stranger} Nothing is lost.`
            : refused === parcels.length
              ? ''
              : 'Nothing is lost; it goes when the ledger answers.'}
      </span>
      <Link to="/waiting" className="link inline-flex min-h-[32px] items-center max-[899px]:min-h-[44px]">
        See what waits
      </Link>
    </p>
  );
}
