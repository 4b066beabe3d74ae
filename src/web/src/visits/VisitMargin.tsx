import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { skipStep, type StepState, type VisitStart, type VisitStep } from '../api/generated';
import { ask } from '../api/ledger';
import { usePerson } from '../people/person';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { statusMarks, statusWords, stepWords } from './start';
import { SafeBand } from '../safety/SafeBand';
import { isBegun, useDraft } from '../ui/useDraft';
import { useKeys } from '../ui/useKeys';
import { useWide } from '../ui/useWide';

const arrive: VisitStep[] = ['catch', 'build', 'boards', 'outsideChecks'];

interface VisitMarginProps {
  start: VisitStart;
  here?: 'arrive' | 'safe' | 'look' | 'measure' | 'reason' | 'visit' | 'fault' | 'sums' | 'stopwatch';
  /** No band says how safe it is, on a phone either. */
  alone?: boolean;
  /** Only what the steps are called: there is much else in the margin. */
  brief?: boolean;
  /** How far the round has come. */
  measured?: string;
  /** What can be done here, right under the step that is here. */
  children?: ReactNode;
}

const keys: Record<string, string> = { arrive: 'A', safe: 'S', look: 'L', measure: 'P', reason: 'G', visit: 'V' };

/** The steps of a visit down its side, each with its state and its key; above them how safe it is. */
export function VisitMargin({ start, here, alone, brief, measured, children }: VisitMarginProps) {
  const wide = useWide();
  const go = useNavigate();
  const of = (...steps: VisitStep[]) => start.steps.filter((s) => steps.includes(s.step));
  const groups: { id: string; name: string; to: string | null; steps: StepState[] }[] = [
    { id: 'arrive', name: 'Arrive', to: `/visits/${start.visitId}/arrive`, steps: of(...arrive) },
    {
      id: 'safe',
      name: 'Make safe',
      to: `/visits/${start.visitId}/safe`,
      steps: start.steps.filter((s) => !arrive.includes(s.step) && s.step !== 'look'),
    },
    { id: 'look', name: 'Look', to: `/visits/${start.visitId}/look`, steps: of('look') },
    { id: 'measure', name: 'Measure', to: start.lastRoundId && `/rounds/${start.lastRoundId}`, steps: [] },
    { id: 'reason', name: 'Reason', to: `/visits/${start.visitId}/reason`, steps: [] },
    { id: 'visit', name: 'The visit', to: `/visits/${start.visitId}`, steps: [] },
  ];
  const ways = new Map(groups.map((g) => [`Alt ${keys[g.id] ?? ''}`, g.to]));
  useKeys((key) => {
    const to = ways.get(key);
    if (to) {
      void go(to);
    }
    return Boolean(to);
  });
  return (
    <>
      {(wide || alone) && !start.hasEnded && <SafeBand start={start} stacked />}
      <p className="mt-2 font-bold break-words">{start.complaint || 'No complaint noted'}</p>
      <ul>
        {groups.map(
          (g) =>
            g.to && (
              <li key={g.id} className={brief ? 'mt-1' : 'mt-2'}>
                <Link
                  to={g.to}
                  className="flex min-h-[30px] items-center gap-2 font-bold max-[899px]:min-h-[44px]"
                  aria-current={g.id === here ? 'step' : undefined}
                >
                  {g.id === here && <Mark kind="here" />} {g.name}
                  {g.id === 'measure' && measured && (
                    <span className="ml-auto font-mono text-[14px] font-normal whitespace-nowrap text-ink-2">
                      {measured}
                    </span>
                  )}
                  {g.id !== here && (
                    <span className="ml-auto font-normal max-[899px]:hidden">
                      <Key>Alt {keys[g.id]}</Key>
                    </span>
                  )}
                </Link>
                <ul>
                  {g.steps.map((s) => (
                    <li key={s.step} className="flex items-start gap-2 py-0.5 text-[14px] leading-snug">
                      <span className="pt-0.5">
                        <Mark kind={statusMarks[s.status]} />
                      </span>
                      <span className="min-w-0">
                        {stepWords[s.step]} <span className="sr-only">{statusWords[s.status]}</span>
                        {!brief && (
                          <span className="block break-words text-ink-2">
                            {s.status === 'skipped' ? `skipped: ${s.reason}` : s.words}
                          </span>
                        )}
                      </span>
                    </li>
                  ))}
                </ul>
                {g.id === here && children}
              </li>
            ),
        )}
      </ul>
      <p className="mt-3 text-[14px]">
        <Link
          className="link inline-flex min-h-[32px] items-center max-[899px]:min-h-[44px]"
          to={`/visits/${start.visitId}/sums`}
          aria-current={here === 'sums' ? 'page' : undefined}
        >
          Bench sums
        </Link>
      </p>
      <p className="text-[14px]">
        <Link
          className="link inline-flex min-h-[32px] items-center max-[899px]:min-h-[44px]"
          to={`/visits/${start.visitId}/stopwatch`}
          aria-current={here === 'stopwatch' ? 'page' : undefined}
        >
          Stopwatch
        </Link>
      </p>
      <p className="text-[14px]">
        <Link className="link inline-flex min-h-[32px] items-center" to={`/machines/${encodeURIComponent(start.tag)}`}>
          Page of {start.tag}
        </Link>
      </p>
      <p className="mt-3 text-[14px] text-ink-2">
        Live parts can hurt. Your local code and the licensed person come first.
      </p>
    </>
  );
}

/** Leaves a step out, with the reason; or takes that back. */
export function SkipStep({ start, step }: { start: VisitStart; step: VisitStep }) {
  const person = usePerson();
  const queries = useQueryClient();
  const state = start.steps.find((s) => s.step === step);
  const name = `skip/${start.visitId}/${step}`;
  const [reason, setReason] = useDraft(name);
  const [shown, setShown] = useState(() => isBegun(name));
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
      setReason('');
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
