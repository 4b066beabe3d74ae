import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { RowView } from '../api/generated';
import { Wire } from '../ui/Wire';

interface ProbeProps {
  row: RowView;
  visitId: string;
  words: string | undefined;
  landmarks: string | undefined;
  isProvedDead: boolean;
  /** Beside the black probe: where it may be clipped instead. */
  clip?: ReactNode;
  /** What it read before. */
  before?: ReactNode;
}

/** The next probe, read from arm's length: red pin, black pin, wires, then how and what to expect. */
export function Probe({ row, visitId, words, landmarks, isProvedDead, clip, before }: ProbeProps) {
  return (
    <div data-testid="probe" className="py-2 max-[899px]:py-1">
      {row.red ? (
        <div className="flex flex-col gap-x-6 min-[900px]:flex-row min-[900px]:items-center">
          <p className="flex items-center gap-3 font-mono text-[54px] leading-[1.1] font-bold whitespace-nowrap max-[899px]:text-[44px]">
            <Tip className="fill-[#b8202c]" />
            <span>
              <span className="sr-only">Red probe on </span>
              {row.red.printed}
            </span>
          </p>
          <p className="min-w-0 leading-tight max-[899px]:flex max-[899px]:flex-wrap max-[899px]:gap-x-3">
            <b className="block text-[18px] max-[899px]:text-[16px]">
              <Wire colours={row.red.colours} words={row.red.colourWords} />
            </b>
            <span className="block">{row.red.signal}</span>
            {words && (
              <span className="block text-ink-2">
                {words}, as you face it{landmarks && `; ${landmarks}`}
              </span>
            )}
          </p>
        </div>
      ) : (
        <p className="text-[40px] leading-tight font-bold">{row.part || row.remark}</p>
      )}
      {row.black && (
        <div className="flex flex-wrap items-center gap-x-6">
          <p className="flex items-center gap-3 font-mono text-[32px] leading-[1.2] font-bold text-ink-2 max-[899px]:text-[24px]">
            <Tip className="fill-[#1b1b1b] stroke-rule-2" />
            <span>
              <span className="sr-only">Black probe on </span>
              {row.black.printed}
            </span>
          </p>
          <p className="text-ink-2">
            <Wire colours={row.black.colours} words={row.black.colourWords} />
            <span className="ml-3 max-[899px]:hidden">{row.black.signal}</span>
          </p>
          {clip}
        </div>
      )}
      <p className="mt-1 flex flex-wrap items-baseline gap-x-4 max-[899px]:gap-x-3">
        <b className="font-mono text-[24px] max-[899px]:text-[20px] whitespace-nowrap">{row.limit}</b>
        {row.toleranceWords && <span className="text-ink-2">{row.toleranceWords}</span>}
        <b>{row.modeWords}</b>
        <span>{row.stateName}</span>
        {row.plugged !== null && <span>{row.plugged ? 'plugged in' : 'unplugged'}</span>}
        {row.remark && <span className="text-ink-2">{row.remark}</span>}
        {before}
        {row.sums.map((sum) => (
          <Link
            key={sum.sumId}
            className="link max-[899px]:min-h-[44px] max-[899px]:content-center"
            to={`/visits/${visitId}/sums/${sum.sumId}?${new URLSearchParams(sum.fill)}`}
          >
            Sum: {sum.name.toLowerCase()}
          </Link>
        ))}
        {row.caution && <b className="text-marginal">{row.caution}</b>}
        {row.deadOnly && !isProvedDead && <span className="text-ink-2">dead: prove it first</span>}
      </p>
    </div>
  );
}

/** The tip of a probe. */
export function Tip({ className }: { className: string }) {
  return (
    <svg viewBox="0 0 10 34" className="h-[0.95em] w-[14px] shrink-0" aria-hidden="true">
      <path d="M1,34 V6 Q1,1 5,0.5 Q9,1 9,6 V34 Z" className={className} />
    </svg>
  );
}
