import { Link } from 'react-router';
import type { SafeCondition, VisitStart } from '../api/generated';
import { Mark, type MarkKind } from '../ui/Mark';
import { useClock } from './clock';
import { clockOf, dayOf } from '../ui/time';
import { bypassWords } from './TemporaryLinks';

export const conditionWords: Record<SafeCondition, string> = {
  live: 'live',
  isolated: 'isolated, not proved dead',
  provedDead: 'proved dead',
};
export const conditionMarks: Record<SafeCondition, MarkKind> = {
  live: 'high',
  isolated: 'marginal',
  provedDead: 'within',
};
const colours: Record<SafeCondition, string> = {
  live: 'bg-out-wash text-out',
  isolated: 'bg-sheet text-marginal',
  provedDead: 'bg-sheet text-within',
};

/** Until when something stands; said loudly once that has passed. */
export function Until({ time }: { time: string | null }) {
  const now = useClock(30_000);
  return time === null ? null : new Date(time).getTime() < now ? (
    <b className="text-out">overdue since {clockOf(time)}</b>
  ) : (
    <span>
      until {dayOf(time) === today() ? '' : `${dayOf(time)} `}
      {clockOf(time)}
    </span>
  );
}

const today = () => dayOf(new Date().toISOString());

/** Always in sight in a visit: how safe it is made, since when, by whom; what is placed for a test; who watches. */
export function SafeBand({ start }: { start: VisitStart }) {
  const { state, links, notices, cautions } = start.safety;
  const placed = links.filter((l) => !l.removedAt);
  const open = notices.filter((n) => !n.backAt);
  // Said of each source where they differ.
  const isMixed = new Set(state.sources.filter((s) => s.isElectrical).map((s) => s.condition)).size > 1;
  const since =
    state.since && `since ${dayOf(state.since) === today() ? '' : `${dayOf(state.since)} `}${clockOf(state.since)}`;
  return (
    <section
      aria-label="How safe it is"
      data-testid="safe"
      className={`flex flex-wrap items-center gap-x-5 gap-y-0.5 border-b border-rule-2 px-5 py-1 ${colours[state.condition]}`}
    >
      <Link
        to={`/visits/${start.visitId}/safe`}
        className="inline-flex min-h-[32px] items-center gap-2 max-[899px]:min-h-[44px]"
      >
        <Mark kind={conditionMarks[state.condition]} />
        <b>{isMixed ? state.sources.map((s) => s.words).join(', ') : conditionWords[state.condition]}</b>
        {since && (
          <span className="text-ink-2">
            {since}
            {state.by && ` by ${state.by}`}
            {state.condition === 'provedDead' && state.since && <Age since={state.since} />}
          </span>
        )}
      </Link>
      {state.void && <b className="text-out">{state.void}</b>}
      {placed.map((l) => (
        <span key={l.id} className="inline-flex items-center gap-2 text-out">
          <Mark kind="differs" />
          <span>
            {l.bypasses && <b>{bypassWords(l)}: </b>}
            <b>{l.kindWords}</b> {l.where} <Until time={l.until} />
          </span>
        </span>
      ))}
      {open.map((n) => (
        <span key={n.id} className="inline-flex items-center gap-2 text-marginal">
          <Mark kind="marginal" />
          <span>
            <b>Out of service</b>, told: {n.told} <Until time={n.until} />
          </span>
        </span>
      ))}
      {cautions.length > 0 && <span className="text-[14px] text-ink max-[899px]:sr-only">{cautions.join(' ')}</span>}
    </section>
  );
}

/** How long ago it was proved. It informs; a proof does not expire by itself. */
function Age({ since }: { since: string }) {
  const minutes = Math.floor((useClock(30_000) - new Date(since).getTime()) / 60_000);
  return minutes < 1 ? null : <>, {minutes < 120 ? `${minutes} min` : `${Math.floor(minutes / 60)} h`} ago</>;
}
