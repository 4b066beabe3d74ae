import { Link, useNavigate, useParams } from 'react-router';
import type { RunOnView, VisitStart } from '../api/generated';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { OpeningPage } from '../ui/OpeningPage';
import { useKeys } from '../ui/useKeys';
import { SkipStep, VisitMargin } from '../visits/VisitMargin';
import { useStart } from '../visits/start';
import { Charges } from './Charges';
import { GoLive } from './GoLive';
import { LeafPart } from './LeafPart';
import { LifeSafety } from './LifeSafety';
import { Next } from './NextAct';
import { OpenThings } from './OpenThings';
import { SafeBand } from './SafeBand';
import { Doubts, placeWords, Steps, Wet } from './SafeSteps';
import { TemporaryLinks } from './TemporaryLinks';
import { inMinutes, useClock } from './clock';

/** Make safe: sources off, isolated, locked, released, then proved dead by reading every pair. */
export function SafePage() {
  const { visitId = '' } = useParams();
  const start = useStart(visitId);
  if (!start.data) {
    return <OpeningPage title="Make safe" words="Opening the visit…" of={[start]} />;
  }
  return <MakingSafe start={start.data} />;
}

function MakingSafe({ start }: { start: VisitStart }) {
  const go = useNavigate();
  const { state, isAssumed, lifeSafety, runOns } = start.safety;
  const next = state.steps.find((s) => !s.isDone);
  useKeys((key) => {
    if (key !== 'F9' || !start.lastRoundId) {
      return false;
    }
    void go(`/rounds/${start.lastRoundId}`);
    return true;
  });
  return (
    <Frame
      tag={start.tag}
      title={start.machineName}
      place={start.site}
      band={<SafeBand start={start} />}
      margin={<VisitMargin start={start} here="safe" />}
      marginLast
      leafName="What is open"
      leaf={
        <>
          <div className="min-[900px]:hidden">
            <Cautions start={start} />
          </div>
          {lifeSafety && <LifeSafety start={start} />}
          <Charges start={start} />
          {runOns.map((r) => (
            <RunningOn key={r.id} runOn={r} />
          ))}
          <OpenThings start={start} />
          <TemporaryLinks start={start} />
        </>
      }
    >
      {isAssumed && (
        <p className="border-b border-rule py-2 text-[14px] text-ink-2">
          Nobody has written down what feeds this model with electricity, so one supply of two conductors and earth is
          taken as given.{' '}
          <Link className="link" to={`/models/${start.modelId}?from=${encodeURIComponent(start.tag)}`}>
            Write down its sources
          </Link>
        </p>
      )}
      {!start.hasEnded && <Doubts start={start} />}
      {start.hasEnded ? (
        <p className="py-3 text-ink-2">The visit has ended.</p>
      ) : next ? (
        <Next key={`${next.kind} ${next.subject} ${next.eventId}`} start={start} step={next} />
      ) : (
        <p
          className="flex flex-wrap items-center gap-3 border-b border-rule-2 py-4 text-[24px] font-bold text-within"
          data-testid="next-act"
        >
          <Mark kind="within" /> Proved dead.
          {start.lastRoundId && (
            <Link to={`/rounds/${start.lastRoundId}`} className="action inline-flex items-center text-[15px]">
              Measure <span className="ml-2 font-mono text-[12px] font-normal">F9</span>
            </Link>
          )}
        </p>
      )}
      <Steps start={start} next={next} />
      {!start.hasEnded && (
        <div className="mt-3 space-y-2">
          <SkipStep start={start} step="provedDead" />
          <GoLive start={start} />
          <p className="text-[14px] text-ink-2">
            Dead is at most{' '}
            {[
              ...new Set(
                state.steps.flatMap((s) => (s.limit && s.point ? [`${s.limit} V ${s.point.isAc ? 'AC' : 'DC'}`] : [])),
              ),
            ].join(', ')}
            ; what may be touched is not what is dead. {placeWords[state.place]} <Wet start={start} />{' '}
            <Link className="link" to="/shop">
              The shop’s limits
            </Link>
          </p>
        </div>
      )}
    </Frame>
  );
}

function Cautions({ start }: { start: VisitStart }) {
  return (
    <LeafPart title="Now">
      <ul>
        {start.safety.cautions.map((c) => (
          <li key={c} className="border-b border-rule py-1 font-semibold">
            {c}
          </li>
        ))}
      </ul>
      <p className="py-1 text-[14px] text-ink-2">Your local code and the licensed person come first.</p>
    </LeafPart>
  );
}

function RunningOn({ runOn }: { runOn: RunOnView }) {
  const now = useClock();
  const left = runOn.offAt ? new Date(runOn.offAt).getTime() + runOn.minutes * 60_000 - now : null;
  return (
    <LeafPart title={runOn.name}>
      <p className="py-1">{runOn.words}</p>
      <p role="timer" className="font-mono text-[22px] font-bold">
        {left === null ? `${runOn.minutes} min once all is off` : left <= 0 ? 'time is over' : inMinutes(left)}
      </p>
    </LeafPart>
  );
}
