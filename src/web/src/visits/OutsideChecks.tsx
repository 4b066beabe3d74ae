import { useEffect, useRef, useState } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import {
  editVisit,
  endVisit,
  getVisit,
  type OutsideAnswer,
  type OutsideCheckView,
  type VisitStart,
} from '../api/generated';
import { ask } from '../api/ledger';
import { Key } from '../ui/Key';
import { Mark, type MarkKind } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { dayOf } from '../ui/time';
import { useDraft } from '../ui/useDraft';
import { useKeys } from '../ui/useKeys';
import { editOf } from './edit';
import { nextAct, secondsSince, useDone } from './start';

const answers: Record<OutsideAnswer, [string, MarkKind]> = {
  yes: ['as it should be', 'within'],
  no: ['was not, put right', 'low'],
  couldNot: ['could not', 'skipped'],
  hasNone: ['has none', 'skipped'],
};

/** What was answered, and what that clears. */
function said(check: OutsideCheckView): string {
  if (!check.answer) {
    return '';
  }
  if (check.asksHowLong && (check.answer === 'yes' || check.answer === 'no')) {
    const held = check.held && `, ${check.answer === 'yes' ? 'for' : 'after'} ${check.held}`;
    return check.answer === 'yes' ? `held${held}` : `came back${held}: no trip that only wanted a reset`;
  }
  return [
    answers[check.answer][0],
    check.saidAt && `said ${dayOf(check.saidAt)}`,
    check.answer === 'yes' && check.clears && `clears ${check.clears}`,
    check.wasIt && 'that was it',
  ]
    .filter(Boolean)
    .join(', ');
}

/** The outside checks, the best next first, answered by one key each. */
export function OutsideChecks({ start }: { start: VisitStart }) {
  const { done, error } = useDone(start);
  const [asked, setAsked] = useState<string | null>(null);
  const [foundWrong, setFoundWrong] = useState(false);
  const [held, setHeld] = useDraft(`held/${start.visitId}`);
  const [all, setAll] = useState(false);
  const since = useRef(0);
  const panel = useRef<HTMLDivElement>(null);
  const found = start.outside.find((c) => c.wasIt);
  const check =
    start.outside.find((c) => c.id === asked) ?? (found ? undefined : start.outside.find((c) => c.answer === null));
  useEffect(() => {
    since.current = Date.now();
  }, [check?.id]);

  const answer = (to: OutsideCheckView, what: OutsideAnswer, wasIt = false) => {
    setAsked(null);
    setFoundWrong(false);
    setHeld('');
    void done({
      to: 'outside-answers',
      words: to.asks,
      json: {
        checkId: to.id,
        answer: what,
        held,
        wasIt,
        seconds: secondsSince(since.current),
        order: nextAct(),
        at: new Date().toISOString(),
      },
    });
    panel.current?.focus();
  };
  const press = (key: string): boolean => {
    if (!check) {
      return false;
    }
    const acts: Record<string, () => void> = foundWrong
      ? { y: () => answer(check, 'no', true), n: () => answer(check, 'no') }
      : {
          y: () => answer(check, 'yes'),
          // A reset that did not hold is an answer; there is nothing to put right.
          n: () => (check.asksHowLong ? answer(check, 'no') : setFoundWrong(true)),
          c: () => answer(check, 'couldNot'),
          h: () => answer(check, 'hasNone'),
        };
    const act = acts[key.toLowerCase()];
    act?.();
    return act !== undefined;
  };
  useKeys((key) => !start.hasEnded && press(key));
  if (start.hasEnded && start.outside.every((c) => c.answer === null)) {
    return <p className="text-ink-2">None was answered.</p>;
  }
  return (
    <>
      {check && !start.hasEnded && (
        <div
          ref={panel}
          role="group"
          tabIndex={-1}
          aria-label="The next outside check"
          data-testid="outside"
          className="mt-1 border-l-4 border-rust bg-rust-wash px-4 py-2"
        >
          <p className="text-[24px] leading-tight font-bold" aria-live="polite">
            {foundWrong ? 'Put it right. Does the machine work now?' : check.asks}
          </p>
          <p className="text-[14px] text-ink-2">
            {foundWrong ? check.asks : `${check.why}.${check.clears ? ` A yes clears ${check.clears}.` : ''}`}
          </p>
          {check.asksHowLong && !foundWrong && (
            <label className="mt-1 block text-[14px]">
              Held for
              <input
                className="field ml-2 w-[140px]"
                value={held}
                placeholder="such as 30 s"
                onChange={(event) => setHeld(event.target.value)}
              />
            </label>
          )}
          <p className="mt-2 flex flex-wrap gap-2">
            {(foundWrong
              ? [
                  ['y', 'Yes, that was it'],
                  ['n', 'No, go on'],
                ]
              : [
                  ['y', check.asksHowLong ? 'Yes, it holds' : 'Yes'],
                  ['n', check.asksHowLong ? 'No, it came back' : 'No'],
                  ['c', 'Could not'],
                  ['h', 'Has none'],
                ]
            ).map(([key = '', words]) => (
              <button
                key={words}
                type="button"
                className="quiet inline-flex min-h-[44px] items-center gap-2 border-ink bg-sheet"
                onClick={() => press(key)}
              >
                {words} <Key>{key.toUpperCase()}</Key>
              </button>
            ))}
          </p>
        </div>
      )}
      {found && !start.hasEnded && <Found start={start} check={found} />}
      <Problem error={error} />
      <ol className="mt-1">
        {start.outside
          .filter((c) => all || c.answer !== null)
          .map((c) => (
            <li key={c.id} className="flex flex-wrap items-start gap-x-3 border-b border-rule py-1">
              <span className="pt-1">
                <Mark kind={c.answer ? answers[c.answer][1] : 'untouched'} />
              </span>
              <button
                type="button"
                className="link min-w-0 flex-1 text-left"
                onClick={() => setAsked(c.id)}
                disabled={start.hasEnded}
              >
                {c.asks}
              </button>
              <span className="text-[14px] text-ink-2">{c.answer ? said(c) : c.why}</span>
            </li>
          ))}
      </ol>
      <p className="text-[14px] text-ink-2">
        <button
          type="button"
          className="link min-h-[32px] max-[899px]:min-h-[44px]"
          aria-pressed={all}
          onClick={() => setAll(!all)}
        >
          All {start.outside.length}, and why in this order
        </button>{' '}
        {all &&
          `Chance over minutes, each after what must come before it: ${start.expectedMinutes.toFixed(1)} minutes are expected down to the end.`}
      </p>
    </>
  );
}

/** An outside check was the whole fault: the visit may end here. */
function Found({ start, check }: { start: VisitStart; check: OutsideCheckView }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const [error, setError] = useState<Error | null>(null);
  const end = async () => {
    try {
      setError(null);
      const visit = await ask(getVisit({ path: { id: start.visitId } }));
      const note = `Found by an outside check: ${check.asks} It was not; put right.`;
      const kept = await ask(
        editVisit({
          path: { id: visit.id },
          body: { ...editOf(visit), endingNote: visit.endingNote || note },
        }),
      );
      await ask(endVisit({ path: { id: visit.id }, body: { version: kept.version, ending: 'signed' } }));
      await queries.invalidateQueries();
      await go(`/machines/${encodeURIComponent(start.tag)}`);
    } catch (failure) {
      setError(failure as Error);
    }
  };
  return (
    <div className="mt-1 border-l-4 border-within px-4 py-2">
      <b>That was it: {check.asks}</b>
      <p className="mt-1 flex flex-wrap items-center gap-3">
        <button type="button" className="action" onClick={() => void end()}>
          End the visit as found
        </button>
        <Link className="link" to={`/visits/${start.visitId}`}>
          Write more first
        </Link>
      </p>
      <Problem error={error} />
    </div>
  );
}
