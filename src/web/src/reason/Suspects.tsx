import { useState } from 'react';
import type { ReasonView, ReasonSuspect } from '../api/generated';
import { Mark } from '../ui/Mark';
import { odds, percent, standingMarks, standingWords } from './words';

/** Who it can still be: bars that move as more becomes known, struck out with what cleared them. */
export function Suspects({ view }: { view: ReasonView }) {
  const [asked, setAsked] = useState('');
  return (
    <section aria-label="Who it can still be" className="mt-4">
      <div className="flex flex-wrap items-baseline gap-x-4 border-b border-rule-2 pb-1">
        <h2 className="grow">Who it can still be</h2>
        <p className="text-[14px] text-ink-2 max-[899px]:hidden">
          share after {view.known.length} {view.known.length === 1 ? 'observation' : 'observations'}; the small mark is
          where it stood before the last
        </p>
      </div>
      <ul>
        {view.suspects.map((s, i) => (
          <Suspect
            key={s.id}
            of={s}
            isFirst={i === 0}
            isAsked={asked === s.id}
            ask={() => setAsked(asked === s.id ? '' : s.id)}
          />
        ))}
      </ul>
      {view.others > 0 && (
        <p className="py-1 text-[14px] text-ink-2">and {view.others} more, each under 1 % or cleared with these</p>
      )}
      {view.unsearched > 0.3 && (
        <p className="text-[14px] text-ink-2">
          Two faults at once were searched as far as the likeliest 150 pairs; others may hold some of it.
        </p>
      )}
    </section>
  );
}

interface SuspectProps {
  of: ReasonSuspect;
  isFirst: boolean;
  isAsked: boolean;
  ask: () => void;
}

function Suspect({ of, isFirst, isAsked, ask }: SuspectProps) {
  const isOut = of.standing === 'cleared';
  const word = standingWords[of.standing];
  const for_ = of.why.filter((w) => w.factor > 1);
  const against = of.why.filter((w) => w.factor < 1);
  return (
    <li className={`border-b border-rule py-1.5 ${isFirst && !isOut ? 'bg-rust-wash' : ''}`}>
      <div className="flex gap-x-3 px-1 max-[899px]:flex-wrap">
        <span className="pt-0.5">
          <Mark kind={of.standing === 'proved' ? 'high' : isFirst && !isOut ? 'here' : standingMarks[of.standing]} />
        </span>
        <div className="min-w-0 grow">
          <button
            type="button"
            aria-expanded={isAsked}
            className={`cursor-pointer text-left font-bold break-words max-[899px]:min-h-[44px] ${isOut ? 'text-ink-2 line-through' : ''}`}
            onClick={ask}
          >
            {of.name}
          </button>
          <p className="text-[14px] leading-snug text-ink-2">
            {isOut ? (of.because ? `cleared: ${of.because}` : 'cleared') : of.words !== of.name && of.words}
          </p>
        </div>
        <Bar share={of.share} before={of.before} isFirst={isFirst && !isOut} />
        <b className="w-[62px] shrink-0 text-right font-mono">{percent(of.share)}</b>
        <p className="w-[112px] shrink-0 text-[14px] leading-snug text-ink-2 max-[899px]:w-full max-[899px]:pl-6">
          {!isOut && (
            <>
              {of.for} for, {of.against} against
            </>
          )}
          {word && !isOut && <b className="block text-ink">{word}</b>}
        </p>
      </div>
      {isAsked && (
        <div className="grid gap-x-6 px-6 py-2 text-[14px] min-[900px]:grid-cols-2">
          <Speaks head="Speaks for it" all={for_} none="Nothing speaks for it more than for the others." />
          <Speaks head="Speaks against it" all={against} none="Nothing speaks against it." />
          {of.wouldSee.length > 0 && (
            <div className="mt-2 min-[900px]:col-span-2">
              <h3 className="font-bold">If it is this</h3>
              <ul>
                {of.wouldSee.map((w) => (
                  <li key={w.what}>
                    <span className="font-mono">{w.what}</span>: {w.shows}
                  </li>
                ))}
              </ul>
            </div>
          )}
          {of.because && !isOut && <p className="mt-2 min-[900px]:col-span-2">{of.because}.</p>}
        </div>
      )}
    </li>
  );
}

function Speaks({ head, all, none }: { head: string; all: ReasonSuspect['why']; none: string }) {
  return (
    <div>
      <h3 className="font-bold">{head}</h3>
      {all.length === 0 && <p className="text-ink-2">{none}</p>}
      <ul>
        {all.slice(0, 8).map((w, i) => (
          <li key={`${w.words} ${i}`} className="flex justify-between gap-3 border-t border-rule py-0.5">
            <span className="min-w-0">{w.words}</span>
            <span className="shrink-0 font-mono">{odds(w.factor)}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** The share as a bar on a scale of halves, with where it stood before. */
function Bar({ share, before, isFirst }: { share: number; before: number; isFirst: boolean }) {
  const width = 170;
  return (
    <svg
      width={width}
      height={24}
      viewBox={`0 0 ${width} 24`}
      aria-hidden="true"
      className="shrink-0 max-[899px]:order-last max-[899px]:ml-6 max-[899px]:w-[60%]"
    >
      <line x1={0.5} x2={0.5} y1={4} y2={15} className="stroke-rule-2" />
      <line x1={width / 2} x2={width / 2} y1={4} y2={15} className="stroke-rule-2" />
      <line x1={width - 0.5} x2={width - 0.5} y1={4} y2={15} className="stroke-rule-2" />
      <line x1={0} x2={width} y1={15} y2={15} className="stroke-rule-2" />
      <rect x={0} y={5} height={8} width={Math.max(1, share * width)} className={isFirst ? 'fill-rust' : 'fill-ink'} />
      <path d={`M${before * width},16 l5,6 h-10 z`} className="fill-idle" />
    </svg>
  );
}
