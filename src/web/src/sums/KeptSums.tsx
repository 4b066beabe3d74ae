import type { VisitStart } from '../api/generated';
import { clockOf } from '../ui/time';
import { StrikeOut } from '../visits/StrikeOut';

/** The sums that were kept with a visit, newest first. */
export function KeptSums({ start }: { start: VisitStart }) {
  const kept = start.observations.filter((o) => o.kind === 'workedOut').reverse();
  return (
    <>
      <h2 className="title">Kept with this visit</h2>
      {kept.length === 0 && (
        <p className="mt-1 text-ink-2">Nothing yet. What a sum or the stopwatch came to can be kept as a line here.</p>
      )}
      <ul className="mt-1">
        {kept.map((o) => (
          <li key={o.id} className="border-b border-rule py-1">
            <span className="break-words">{o.text}</span>
            <span className="flex items-center justify-between gap-3 text-[14px] text-ink-2">
              <span className="font-mono">{clockOf(o.at)}</span>
              {!start.hasEnded && <StrikeOut observation={o} visitId={start.visitId} />}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
