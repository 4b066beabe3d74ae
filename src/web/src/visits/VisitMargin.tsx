import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { skipStep, type StepState, type VisitStart, type VisitStep } from '../api/generated';
import { ask } from '../api/ledger';
import { usePerson } from '../people/person';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { statusMarks, statusWords, stepWords } from './start';

const arrive: VisitStep[] = ['catch', 'build', 'boards', 'outsideChecks'];

interface VisitMarginProps {
  start: VisitStart;
  here?: 'arrive' | 'safe' | 'look' | 'measure' | 'visit';
  /** Only the steps: what stands around them is on the page already. */
  brief?: boolean;
}

/** The steps of a visit down its side: done, skipped and open. */
export function VisitMargin({ start, here, brief }: VisitMarginProps) {
  const to = (page: string) => `/visits/${start.visitId}${page}`;
  const group = (name: string, page: string, steps: StepState[], isHere: boolean) => (
    <li className="mt-2">
      <Link
        to={page}
        className="flex min-h-[30px] items-center gap-2 font-bold max-[899px]:min-h-[44px]"
        aria-current={isHere ? 'step' : undefined}
      >
        {isHere && <Mark kind="here" />} {name}
      </Link>
      <ul>
        {steps.map((s) => (
          <li key={s.step} className="flex items-start gap-2 py-0.5 text-[14px]">
            <span className="pt-0.5">
              <Mark kind={statusMarks[s.status]} />
            </span>
            <span className="min-w-0">
              {stepWords[s.step]} <span className="sr-only">{statusWords[s.status]}:</span>
              <span className="block break-words text-ink-2">
                {s.status === 'skipped' ? `skipped: ${s.reason}` : s.words}
              </span>
            </span>
          </li>
        ))}
      </ul>
    </li>
  );
  return (
    <>
      {!brief && <p className="font-bold">{start.complaint || 'No complaint noted'}</p>}
      <ul>
        {group(
          'Arrive',
          to('/arrive'),
          start.steps.filter((s) => arrive.includes(s.step)),
          here === 'arrive',
        )}
        {group(
          'Make safe',
          to('/safe'),
          start.steps.filter((s) => !arrive.includes(s.step) && s.step !== 'look'),
          here === 'safe',
        )}
        {group(
          'Look',
          to('/look'),
          start.steps.filter((s) => s.step === 'look'),
          here === 'look',
        )}
        {!brief && start.lastRoundId && group('Measure', `/rounds/${start.lastRoundId}`, [], here === 'measure')}
        {group('The visit', to(''), [], here === 'visit')}
      </ul>
      {!brief && (
        <>
          <p className="mt-3 text-[14px]">
            <Link
              className="link inline-flex min-h-[32px] items-center"
              to={`/machines/${encodeURIComponent(start.tag)}`}
            >
              Page of {start.tag}
            </Link>
          </p>
          <p className="mt-4 text-[14px] text-ink-2">
            Live parts can hurt. Your local code and the licensed person come first.
          </p>
        </>
      )}
    </>
  );
}

/** Leaves a step out, with the reason; or takes that back. */
export function SkipStep({ start, step }: { start: VisitStart; step: VisitStep }) {
  const person = usePerson();
  const queries = useQueryClient();
  const state = start.steps.find((s) => s.step === step);
  const [reason, setReason] = useState('');
  const [shown, setShown] = useState(false);
  const [error, setError] = useState<Error | null>(null);
  if (!state || state.status === 'done' || start.hasEnded) {
    return null;
  }
  const say = async (words: string) => {
    try {
      setError(null);
      const now = await ask(
        skipStep({ path: { id: start.visitId, step }, body: { reason: words, personId: person?.id ?? '' } }),
      );
      queries.setQueryData(['start', start.visitId], now);
      setShown(false);
    } catch (failure) {
      setError(failure as Error);
    }
  };
  if (state.status === 'skipped') {
    return (
      <p className="text-[14px] text-ink-2">
        Skipped: {state.reason}{' '}
        <button type="button" className="link min-h-[32px] max-[899px]:min-h-[44px]" onClick={() => void say('')}>
          Do it after all
        </button>
      </p>
    );
  }
  return shown ? (
    <form
      className="mt-1 flex flex-wrap gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (reason.trim()) {
          void say(reason);
        }
      }}
    >
      <label className="min-w-[200px] grow text-[14px]">
        Why is it skipped?
        <input
          className="field"
          // The field stands where its button stood.
          ref={(field) => field?.focus()}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
      </label>
      <button type="submit" className="quiet self-end">
        Skip it
      </button>
      <Problem error={error} />
    </form>
  ) : (
    <button
      type="button"
      className="link min-h-[32px] text-[14px] text-ink-2 max-[899px]:min-h-[44px]"
      onClick={() => setShown(true)}
    >
      Skip this step
    </button>
  );
}
