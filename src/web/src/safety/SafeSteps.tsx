import { useState } from 'react';
import type { SafeStep, VisitStart } from '../api/generated';
import { Mark, type MarkKind } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { clockOf } from '../ui/time';
import { useDone } from '../visits/start';
import { act } from './NextAct';

const markOf = (step: SafeStep, isNext: boolean): MarkKind =>
  isNext ? 'here' : step.problem ? 'high' : step.doneAt ? 'within' : 'untouched';

export function Steps({ start, next }: { start: VisitStart; next: SafeStep | undefined }) {
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

export const placeWords = {
  dry: 'The limits of touch are those of a dry place.',
  wet: 'The limits of touch are those of a wet place.',
  immersed: 'The limits of touch are those where people are immersed.',
};

export function Wet({ start }: { start: VisitStart }) {
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
export function Doubts({ start }: { start: VisitStart }) {
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
