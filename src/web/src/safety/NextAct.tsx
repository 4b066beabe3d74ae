import { type SubmitEvent, useEffect, useRef, useState } from 'react';
import type { SafeStep, SafetyEventKind, VisitStart } from '../api/generated';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { useDraft } from '../ui/useDraft';
import { nextAct, useDone } from '../visits/start';

/** The act to do now, the biggest thing on the page. */
export function Next({ start, step }: { start: VisitStart; step: SafeStep }) {
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

export const act = (
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
