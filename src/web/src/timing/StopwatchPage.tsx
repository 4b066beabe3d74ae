import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link, useParams } from 'react-router';
import { getTimingNames, lookAtTiming, type TimedEvent, type VisitStart } from '../api/generated';
import { ask } from '../api/ledger';
import { SafeBand } from '../safety/SafeBand';
import { KeptSums } from '../sums/KeptSums';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { OpeningPage } from '../ui/OpeningPage';
import { Problem } from '../ui/Problem';
import { useWritten } from '../ui/useDraft';
import { useKeys } from '../ui/useKeys';
import { KeepLine } from '../visits/KeepLine';
import { VisitMargin } from '../visits/VisitMargin';
import { useStart } from '../visits/start';

/** What happens when, tapped as it happens, and what that means. */
export function StopwatchPage() {
  const { visitId = '' } = useParams();
  const start = useStart(visitId);
  if (!start.data) {
    return <OpeningPage title="Stopwatch" words="Opening the visit…" of={[start]} />;
  }
  return (
    <Frame
      tag={start.data.tag}
      place={start.data.site}
      title={start.data.machineName}
      band={!start.data.hasEnded && <SafeBand start={start.data} />}
      margin={<VisitMargin start={start.data} here="stopwatch" brief />}
      marginLast
      leafName="Kept with this visit"
      leaf={<KeptSums start={start.data} />}
    >
      <Stopwatch start={start.data} />
    </Frame>
  );
}

const clock = (seconds: number) => `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, '0')}`;
const percent = (share: number) =>
  share > 0.99 ? 'over 99 %' : share < 0.01 ? 'under 1 %' : `${Math.round(share * 100)} %`;

interface Timed {
  /** When it was started, by the clock of this device, in ms; null while it stands still. */
  from: number | null;
  taps: TimedEvent[];
}

const still: Timed = { from: null, taps: [] };

function Stopwatch({ start }: { start: VisitStart }) {
  // The clock goes on over a reload: what happens on the machine does too.
  const [timed, setTimed] = useWritten<Timed>(`stopwatch/${start.visitId}`, still);
  const { from, taps } = timed;
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    if (from === null) {
      return;
    }
    const ticking = setInterval(() => setNow(Date.now()), 100);
    return () => clearInterval(ticking);
  }, [from]);
  const names = useQuery({
    queryKey: ['timing', start.machineId],
    queryFn: () => ask(getTimingNames({ path: { machineId: start.machineId } })),
  });
  const known = names.data?.names ?? [];
  const tap = (name: string) => {
    if (from !== null) {
      setTimed({ from, taps: [...taps, { name, at: Math.round((Date.now() - from) / 10) / 100 }] });
    }
  };
  const toggle = () => {
    if (from === null) {
      setNow(Date.now());
      setTimed({ from: Date.now(), taps: [] });
    } else {
      setTimed({ from: null, taps });
    }
  };
  const back = () => setTimed({ from, taps: taps.slice(0, -1) });
  useKeys((key) => {
    const name = /^[1-9]$/.test(key) ? known[Number(key) - 1] : undefined;
    if (key === ' ') {
      toggle();
    } else if (name !== undefined && from !== null) {
      tap(name);
    } else if (key === 'Backspace' && taps.length > 0) {
      back();
    } else {
      return false;
    }
    return true;
  });
  return (
    <>
      <h2 className="title border-b border-rule-2 pb-1">Stopwatch</h2>
      <div className="mt-2 flex flex-wrap items-center gap-x-6 gap-y-2">
        <p className="font-mono text-[64px] leading-none font-bold" role="timer" aria-label="Time since the start">
          {clock(from === null ? (taps.at(-1)?.at ?? 0) : (now - from) / 1000)}
        </p>
        <button type="button" className="action min-h-[54px] px-6 text-[18px]" onClick={toggle}>
          {from === null ? (taps.length > 0 ? 'Start anew' : 'Start') : 'Stop'} <Key>Space</Key>
        </button>
        {taps.length > 0 && (
          <button type="button" className="quiet min-h-[44px]" onClick={back}>
            Take the last back <Key>⌫</Key>
          </button>
        )}
      </div>
      <div role="group" aria-label="What happens" className="mt-3 grid grid-cols-2 gap-2 min-[600px]:grid-cols-3">
        {known.map((name, i) => (
          <button
            key={name}
            type="button"
            className="quiet flex min-h-[54px] items-center justify-between px-3 text-[17px]"
            disabled={from === null}
            onClick={() => tap(name)}
          >
            {name} {i < 9 && <Key>{i + 1}</Key>}
          </button>
        ))}
      </div>
      <Problem error={names.error} retry={() => void names.refetch()} />
      {taps.length > 0 && (
        <ol aria-label="Tapped" className="mt-3">
          {taps.map((t, i) => (
            <li key={i} className="flex gap-4 border-b border-rule py-0.5">
              <span className="w-[80px] text-right font-mono">{t.at.toFixed(1)} s</span> {t.name}
            </li>
          ))}
        </ol>
      )}
      <Meaning start={start} taps={taps} isRunning={from !== null} lines={names.data?.lines ?? []} />
      {names.data && (
        <p className="mt-3 text-[14px] text-ink-2">
          {names.data.lines.length === 0 ? 'What the times of this model mean is not written yet. ' : ''}
          <Link className="link" to={`/models/${names.data.modelId}#timings`}>
            What times mean
          </Link>
        </p>
      )}
    </>
  );
}

interface MeaningProps {
  start: VisitStart;
  taps: TimedEvent[];
  isRunning: boolean;
  lines: string[];
}

function Meaning({ start, taps, isRunning, lines }: MeaningProps) {
  const standing = JSON.stringify(taps);
  const matches = useQuery({
    queryKey: ['timingLook', start.machineId, standing, lines],
    queryFn: () => ask(lookAtTiming({ path: { machineId: start.machineId }, body: { taps } })),
    enabled: taps.length > 0 && lines.length > 0,
    staleTime: Infinity,
    retry: false,
    placeholderData: keepPreviousData,
  });
  const [why, setWhy] = useState<string | null>(null);
  if (taps.length === 0 || lines.length === 0) {
    return null;
  }
  const best = matches.data?.[0];
  const said = (meaning: string | null) => meaning ?? 'none of what is written down';
  return (
    <section aria-label="What it means" className="mt-4 border-t border-rule-2 pt-2">
      <h3 className="text-[19px] font-bold">What it means{isRunning && ', so far'}</h3>
      <Problem error={matches.error} retry={() => void matches.refetch()} />
      <ul aria-live="polite">
        {matches.data?.map((m) => (
          <li key={m.meaning ?? ''} className="border-b border-rule py-1">
            <button
              type="button"
              className="flex min-h-[34px] w-full cursor-pointer items-baseline gap-4 text-left max-[899px]:min-h-[44px]"
              aria-expanded={why === said(m.meaning)}
              onClick={() => setWhy(why === said(m.meaning) ? null : said(m.meaning))}
            >
              <b className="w-[92px] shrink-0 text-right font-mono">{percent(m.share)}</b>
              <span className={`grow ${m === best ? 'font-bold' : ''}`}>{said(m.meaning)}</span>
              <span className="text-[14px] text-ink-2">Why?</span>
            </button>
            {why === said(m.meaning) && (
              <ul className="settle list-disc bg-paper py-1 pr-3 pl-[120px] text-[14px]">
                {m.why.map((line, i) => (
                  <li key={i}>{line}</li>
                ))}
              </ul>
            )}
          </li>
        ))}
      </ul>
      {!isRunning && best && !start.hasEnded && (
        <p className="mt-2 flex flex-wrap items-center gap-4">
          <KeepLine
            start={start}
            isOld={matches.isPlaceholderData}
            text={`Timed: ${taps.map((t) => `${t.name} ${t.at.toFixed(1)} s`).join(', ')}; ${percent(best.share)} ${said(best.meaning)}`}
          />
        </p>
      )}
    </section>
  );
}
