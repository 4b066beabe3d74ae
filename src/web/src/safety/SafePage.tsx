import { type SubmitEvent, useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { RunOnView, SafeStep, SafetyEventKind, VisitStart } from '../api/generated';
import { Frame } from '../ui/Frame';
import { Mark, type MarkKind } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { clockOf } from '../ui/time';
import { nextAct, useDone, useStart } from '../visits/start';
import { SkipStep, VisitMargin } from '../visits/VisitMargin';
import { Charges } from './Charges';
import { inMinutes, useClock } from './clock';
import { LeafPart } from './LeafPart';
import { LifeSafety } from './LifeSafety';
import { OpenThings } from './OpenThings';
import { SafeBand } from './SafeBand';
import { TemporaryLinks } from './TemporaryLinks';
import { useDraft } from '../ui/useDraft';

const markOf = (step: SafeStep, isNext: boolean): MarkKind =>
  isNext ? 'here' : step.problem ? 'high' : step.doneAt ? 'within' : 'untouched';

/** Make safe: sources off, isolated, locked, released, then proved dead by reading every pair. */
export function SafePage() {
  const { visitId = '' } = useParams();
  const start = useStart(visitId);
  if (!start.data) {
    return (
      <Frame title="Make safe">
        {start.isPending ? (
          <p className="py-6 text-ink-2">Opening the visit…</p>
        ) : (
          <Problem error={start.error} retry={() => void start.refetch()} />
        )}
      </Frame>
    );
  }
  return <MakingSafe start={start.data} />;
}

function MakingSafe({ start }: { start: VisitStart }) {
  const go = useNavigate();
  const { state, isAssumed, lifeSafety, runOns } = start.safety;
  const next = state.steps.find((s) => !s.isDone);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'F9' && start.lastRoundId) {
        event.preventDefault();
        void go(`/rounds/${start.lastRoundId}`);
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [go, start.lastRoundId]);
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

/** The act to do now, the biggest thing on the page. */
function Next({ start, step }: { start: VisitStart; step: SafeStep }) {
  const { done, error, waits } = useDone(start);
  const needsWords = step.kind === 'meterProvedBefore' || step.kind === 'meterProvedAfter';
  const before = start.safety.state.steps.find((s) => s.kind === 'meterProvedBefore');
  const [text, setText] = useDraft(
    `safe/${start.visitId}/${step.kind}/${step.subject}`,
    step.kind === 'meterProvedAfter' ? (before?.said ?? '') : '',
  );
  const [isSending, setIsSending] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => field.current?.focus(), []);
  const isRead = step.kind === 'read';
  // The same two points on the other kind of volts: a tester that shows both takes both in one line.
  const sibling = step.subject.endsWith('/ac')
    ? start.safety.state.steps.find((s) => s.subject === step.subject.replace(/ac$/, 'dc') && !s.doneAt)
    : undefined;
  const submit = async (event: SubmitEvent) => {
    event.preventDefault();
    if (isSending || ((isRead || needsWords) && !text.trim())) {
      return;
    }
    setIsSending(true);
    const [typed, other] = isRead && sibling ? atOnce(text) : [text, undefined];
    // Both at once, so that no step in between asks for what is typed already.
    const [ok] = await Promise.all([
      done(act(step.kind, step.subject, step.words, isRead ? { typed } : { words: text })),
      other !== undefined && sibling ? done(act('read', sibling.subject, sibling.words, { typed: other })) : null,
    ]);
    if (ok) {
      setText('');
    }
    setIsSending(false);
  };
  return (
    <form className="border-b border-rule-2 py-2" data-testid="next-act" onSubmit={(event) => void submit(event)}>
      {step.point ? (
        <p className="flex flex-wrap items-baseline gap-x-6 font-mono text-[44px] leading-tight font-bold max-[899px]:text-[32px]">
          <span>
            <span aria-hidden className="mr-2 inline-block h-[34px] w-[9px] rounded-t-full bg-[#b3202f]" />
            {step.point.red}
          </span>
          <span>
            <span aria-hidden className="mr-2 inline-block h-[34px] w-[9px] rounded-t-full bg-ink" />
            {step.point.black}
          </span>
          <span className="font-sans text-[22px]">{step.point.isAc ? 'AC volts' : 'DC volts'}</span>
        </p>
      ) : (
        <p className="text-[30px] leading-tight font-bold first-letter:uppercase">{step.words}</p>
      )}
      {step.problem && (
        <p className="flex items-center gap-2 text-[17px] font-bold text-out" role="alert">
          <Mark kind="high" /> {step.problem}
        </p>
      )}
      <div className="mt-2 flex items-stretch gap-3">
        {isRead ? (
          <label className="flex min-w-0 flex-1 items-stretch border-2 border-ink">
            <span className="sr-only">Reading, {step.point?.words}</span>
            <input
              ref={field}
              inputMode="decimal"
              autoComplete="off"
              className="h-[52px] w-full min-w-0 px-4 font-mono text-[34px] font-bold caret-rust"
              value={text}
              onChange={(event) => setText(event.target.value)}
            />
            <span className="flex items-center border-l border-rule-2 px-4 text-[20px] text-ink-2">V</span>
          </label>
        ) : (
          <label className="min-w-0 flex-1 text-[14px]">
            <span className="mb-1 block">
              {needsWords
                ? 'On which known source?'
                : step.kind === 'locked'
                  ? 'Lock and tag number, if there is one'
                  : 'A word on it, if needed'}
            </span>
            <input ref={field} className="field" value={text} onChange={(event) => setText(event.target.value)} />
          </label>
        )}
        <button type="submit" className="action self-end" disabled={isSending}>
          {isRead ? 'Store' : 'Done'} <span className="ml-1 font-mono text-[12px] font-normal">Enter</span>
        </button>
      </div>
      {step.kind === 'isolated' && (
        <button
          type="button"
          className="quiet mt-2"
          disabled={isSending}
          onClick={() => void done(act(step.kind, step.subject, step.words, { words: plugInSight }))}
        >
          The plug is pulled and stays in my sight
        </button>
      )}
      {step.limit !== null && (
        <p className="mt-1 text-[14px] text-ink-2">
          Dead is at most {step.limit} V.
          {sibling && ' A tester that shows both takes AC and DC in one line: 0.2 / 0.'}
        </p>
      )}
      {waits && (
        <p role="status" className="mt-1 border-l-4 border-rust pl-2 text-[14px]">
          It is on this device and goes when the ledger answers; the next step comes then.
        </p>
      )}
      <Problem error={error} />
    </form>
  );
}

/** Core's words for an isolation that needs no lock. */
const plugInSight = 'plug pulled, in sight';

/** AC and DC volts as typed in one line, with a stroke between; one value alone is that of the step. */
function atOnce(text: string): [string, string | undefined] {
  const [ac, dc, ...more] = text.split('/').map((part) => part.trim());
  return ac && dc && more.length === 0 ? [ac, dc] : [text, undefined];
}

const act = (
  kind: SafetyEventKind,
  subject: string,
  words: string,
  more: { typed?: string; words?: string; target?: string | null },
) => ({
  to: 'safety-events',
  words,
  json: {
    kind,
    subject,
    typed: '',
    words: '',
    target: null,
    order: nextAct(),
    deviceTime: new Date().toISOString(),
    ...more,
  },
});

function Steps({ start, next }: { start: VisitStart; next: SafeStep | undefined }) {
  const { done, error } = useDone(start);
  return (
    <>
      <h2 className="mt-3 border-b border-rule-2 pb-1">In this order</h2>
      <ol data-testid="safe-steps">
        {start.safety.state.steps.map((s) => (
          <li
            key={`${s.kind} ${s.subject}`}
            className={`flex min-h-[30px] items-center gap-3 border-b border-rule ${s === next ? 'bg-rust-wash' : ''}`}
          >
            <Mark kind={markOf(s, s === next)} />
            <span className="min-w-0 grow">
              {s.words}
              {s.said && <span className="text-ink-2">: {s.said}</span>}
              {s.problem && <b className="block text-[14px] text-out">{s.problem}</b>}
            </span>
            {s.volts !== null && <b className="font-mono">{s.volts} V</b>}
            <span className="w-[110px] text-right text-[14px] text-ink-2">
              {s.doneAt ? `${s.person} ${clockOf(s.doneAt)}` : 'not yet'}
            </span>
            {s.eventId && !start.hasEnded && (
              <button
                type="button"
                className="link min-h-[30px] text-[14px] max-[899px]:min-h-[44px]"
                aria-label={`Take back: ${s.words}`}
                onClick={() => void done(act('takenBack', '', `taken back: ${s.words}`, { target: s.eventId }))}
              >
                Take back
              </button>
            )}
          </li>
        ))}
      </ol>
      <Problem error={error} />
    </>
  );
}

const placeWords = {
  dry: 'The limits of touch are those of a dry place.',
  wet: 'The limits of touch are those of a wet place.',
  immersed: 'The limits of touch are those where people are immersed.',
};

function Wet({ start }: { start: VisitStart }) {
  const { done, error } = useDone(start);
  const [why, setWhy] = useState<string | null>(null);
  const isDry = start.safety.state.place === 'dry';
  if (why !== null) {
    return (
      <form
        className="inline-flex flex-wrap items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void done(act('placeIsDry', '', 'dry place', { words: why })).then((ok) => ok && setWhy(null));
        }}
      >
        <label>
          Why is it dry?{' '}
          <input
            className="border-b border-ink px-1"
            ref={(field) => field?.focus()}
            value={why}
            onChange={(event) => setWhy(event.target.value)}
          />
        </label>
        <button type="submit" className="quiet px-2" disabled={!why.trim()}>
          It is dry
        </button>
        <Problem error={error} />
      </form>
    );
  }
  return (
    <>
      <button
        type="button"
        className="link min-h-[32px] max-[899px]:min-h-[44px]"
        onClick={() => (isDry ? void done(act('placeIsWet', '', 'wet place', {})) : setWhy(''))}
      >
        {isDry ? 'It is wet here' : 'It is dry here'}
      </button>
      <Problem error={error} />
    </>
  );
}

/** What made a source live, and the lock that may have stood all the while. */
function Doubts({ start }: { start: VisitStart }) {
  const { done, error } = useDone(start);
  const doubted = start.safety.state.sources.filter((s) => s.because && s.condition !== 'provedDead');
  return (
    <>
      {doubted.map((s) => (
        <p
          key={s.id}
          role="alert"
          className="flex flex-wrap items-center gap-3 border-l-4 border-out bg-out-wash px-3 py-2"
        >
          <Mark kind="high" />
          <span className="min-w-0 grow">
            <b>{s.words}</b>: {s.because}. Find why before the proof is made anew.
          </span>
          {s.mayStand && (
            <button
              type="button"
              className="quiet border-ink"
              onClick={() => void done(act('lockStands', s.id, `the lock of ${s.name} was on throughout`, {}))}
            >
              My lock was on throughout
            </button>
          )}
        </p>
      ))}
      <Problem error={error} />
    </>
  );
}

/** Going live again is a deliberate act: it lists what is open first, and asks why. */
function GoLive({ start }: { start: VisitStart }) {
  const { done, error } = useDone(start);
  const [shown, setShown] = useState(false);
  const [source, setSource] = useState('');
  const [why, setWhy] = useDraft(`live-again/${start.visitId}`);
  const anyOff = start.safety.state.steps.some((s) => s.kind !== 'read' && s.doneAt !== null);
  if (!anyOff) {
    return null;
  }
  if (!shown) {
    return (
      <button type="button" className="quiet border-out text-out" onClick={() => setShown(true)}>
        Go live again
      </button>
    );
  }
  return (
    <form
      aria-label="Go live again"
      className="border-2 border-out px-4 py-3"
      onSubmit={(event) => {
        event.preventDefault();
        void done(act('liveAgain', source, 'live again', { words: why })).then((ok) => {
          if (ok) {
            setShown(false);
            setWhy('');
          }
        });
      }}
    >
      <h2>Before it goes live</h2>
      {start.goingLive.length === 0 ? (
        <p>No cover is noted as off, nothing as unplugged, no temporary link as placed. Look all the same.</p>
      ) : (
        <ul className="list-disc pl-5">
          {start.goingLive.map((g) => (
            <li key={g} className="font-bold text-out">
              {g}
            </li>
          ))}
        </ul>
      )}
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <label>
          What comes back on?
          <select className="field" value={source} onChange={(event) => setSource(event.target.value)}>
            <option value="">all of it</option>
            {start.safety.sources.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
              </option>
            ))}
          </select>
        </label>
        <label className="min-w-[200px] flex-1">
          Why?
          <input
            className="field"
            ref={(f) => f?.focus()}
            value={why}
            onChange={(event) => setWhy(event.target.value)}
          />
        </label>
        <button type="submit" className="quiet border-out font-bold text-out" disabled={!why.trim()}>
          It is live again
        </button>
        <button type="button" className="link min-h-[38px]" onClick={() => setShown(false)}>
          Not yet
        </button>
      </div>
      <Problem error={error} />
    </form>
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
