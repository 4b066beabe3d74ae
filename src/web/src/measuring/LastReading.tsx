import { DisclosureButton } from '@headlessui/react';
import type { RoundView } from '../api/generated';
import { Key } from '../ui/Key';
import { Mark, markColour, markWords } from '../ui/Mark';

/** The reading just stored: what it means and what it changed. */
export function LastReading({
  view,
  why,
  children,
}: {
  view: RoundView;
  why: React.RefObject<HTMLButtonElement | null>;
  /** What else can be done about it. */
  children?: React.ReactNode;
}) {
  const last = view.last;
  return (
    <div
      className="flex min-h-[40px] items-center gap-x-3 border-b border-rule min-[900px]:pb-1"
      aria-live="polite"
      data-testid="last"
    >
      {last ? (
        <p
          key={last.id}
          className="settle flex min-w-0 grow flex-wrap items-center gap-x-3 leading-snug max-[899px]:max-h-[44px] max-[899px]:overflow-hidden"
        >
          <Mark kind={last.verdict} />
          <b className="font-mono">
            {last.redPrinted || view.rows.find((r) => r.key === last.checkKey)?.part} {last.value}
          </b>
          {last.remark && <span>{last.remark}</span>}
          <span className={last.verdict === 'notJudged' ? 'text-ink-2' : markColour(last.verdict)}>
            {last.reason.startsWith(markWords(last.verdict))
              ? last.reason
              : `${markWords(last.verdict)}: ${last.reason}`}
          </span>
          {view.effect && <b>{view.effect}</b>}
        </p>
      ) : (
        <p className="grow text-ink-2">{view.complaint || 'Nothing measured yet.'}</p>
      )}
      {children}
      <DisclosureButton
        ref={why}
        className="inline-flex min-h-[32px] shrink-0 cursor-pointer items-center gap-2 self-start text-[14px] max-[899px]:min-h-[44px]"
      >
        Why? <Key>?</Key>
      </DisclosureButton>
    </div>
  );
}
