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

interface SafeBandProps {
  start: VisitStart;
  /** It heads the margin instead of lying across the page. */
  stacked?: boolean;
}

/** Always in sight in a visit: how safe each source is made, since when, by whom; what is placed for a test; who watches. */
export function SafeBand({ start, stacked }: SafeBandProps) {
  const { state, links, notices, cautions } = start.safety;
  const placed = links.filter((l) => !l.removedAt);
  const open = notices.filter((n) => !n.backAt);
  const left = start.observations.filter((o) => !o.doneAt && (o.kind === 'coverOff' || o.kind === 'unplugged'));
  // Said of each source where they differ, and where there is room for it.
  const isMixed = new Set(state.sources.filter((s) => s.isElectrical).map((s) => s.condition)).size > 1;
  const since =
    state.since && `since ${dayOf(state.since) === today() ? '' : `${dayOf(state.since)} `}${clockOf(state.since)}`;
  const line = stacked ? 'flex items-start gap-2 leading-snug' : 'inline-flex items-center gap-2';
  return (
    <section
      aria-label="How safe it is"
      data-testid="safe"
      className={`border-b border-rule-2 ${colours[state.condition]} ${
        stacked
          ? '-mx-5 -mt-4 space-y-1 border-l-[5px] border-l-current py-2 pr-3 pl-[15px] text-[14px]'
          : 'flex flex-wrap items-center gap-x-5 gap-y-0.5 px-5 py-1'
      }`}
    >
      <Link
        to={`/visits/${start.visitId}/safe`}
        className={stacked ? 'block' : 'inline-flex min-h-[44px] items-center gap-2'}
      >
        {stacked ? (
          state.sources.map((source) => (
            <span key={source.id} className="flex items-start gap-2 py-0.5 leading-snug break-words">
              <span className="pt-0.5">
                <Mark kind={conditionMarks[source.condition]} />
              </span>
              <span className="min-w-0">
                {source.name}: <b>{conditionWords[source.condition]}</b>
              </span>
            </span>
          ))
        ) : (
          <>
            <Mark kind={conditionMarks[state.condition]} />
            <span>
              {!isMixed && state.sources.length > 0 && `${state.sources.map((s) => s.name).join(', ')}: `}
              <b>{isMixed ? state.sources.map((s) => s.words).join(', ') : conditionWords[state.condition]}</b>
            </span>
          </>
        )}
        {since && (
          <span className={`text-ink-2 ${stacked ? 'block' : ''}`}>
            {since}
            {state.by && ` by ${state.by}`}
            {state.condition === 'provedDead' && state.since && <Age since={state.since} />}
          </span>
        )}
      </Link>
      {state.void && <b className="text-out">{state.void}</b>}
      {placed.map((l) => (
        <span key={l.id} className={`${line} text-out`}>
          <Mark kind="differs" />
          <span className="min-w-0 break-words">
            {l.bypasses && <b>{bypassWords(l)}: </b>}
            <b>{l.kindWords}</b> {l.where} <Until time={l.until} />
          </span>
        </span>
      ))}
      {open.map((n) => (
        <span key={n.id} className={`${line} text-marginal`}>
          <Mark kind="marginal" />
          <span className="min-w-0 break-words">
            <b>Out of service</b>, told: {n.told} <Until time={n.until} />
          </span>
        </span>
      ))}
      {stacked &&
        left.map((o) => (
          <span key={o.id} className={`${line} text-out`}>
            <Mark kind="differs" />
            <span className="min-w-0 break-words">
              {o.kind === 'coverOff' ? 'Cover off' : 'Unplugged'}: {o.text}
            </span>
          </span>
        ))}
      {cautions.length > 0 && (
        <p className={`text-[14px] text-ink ${stacked ? 'leading-snug' : 'max-[899px]:sr-only'}`}>
          {cautions.join(' ')}
        </p>
      )}
    </section>
  );
}

/** How long ago it was proved. It informs; a proof does not expire by itself. */
function Age({ since }: { since: string }) {
  const minutes = Math.floor((useClock(30_000) - new Date(since).getTime()) / 60_000);
  return minutes < 1 ? null : <>, {minutes < 120 ? `${minutes} min` : `${Math.floor(minutes / 60)} h`} ago</>;
}
