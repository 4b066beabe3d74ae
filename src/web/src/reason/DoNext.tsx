import { useRef, useState } from 'react';
import { Link } from 'react-router';
import type { LiveAnswer, NewLine, NextActView, ReasonView, RoundView, VisitStart } from '../api/generated';
import type { Refusal } from '../api/ledger';
import { newId } from '../api/newId';
import { AskLive } from '../measuring/AskLive';
import { Choice } from '../measuring/Entry';
import { discard, nextOrder, store } from '../measuring/lines';
import { Meanwhile, nextShowing, withShowing } from '../measuring/Meanwhile';
import { Tip } from '../measuring/Probe';
import { lineOf, probed } from '../measuring/sheet';
import { meterName } from '../people/person';
import { Key } from '../ui/Key';
import { useDraft } from '../ui/useDraft';
import { useKeys } from '../ui/useKeys';
import { Wire } from '../ui/Wire';
import { leads, minutes } from './words';

interface DoNextProps {
  view: ReasonView;
  start: VisitStart;
  round: RoundView | undefined;
  personId: string;
  act: NextActView;
  /** Keeps a line of what was seen. */
  say: (text: string) => Promise<boolean>;
  /** It cannot be done here. */
  leaveOut: () => void;
  /** A reading was stored, or waits. */
  stored: () => void;
}

/** The one act that is best, as large as the work wants it; what each of its outcomes would mean stands below. */
export function DoNext(props: DoNextProps) {
  const { act, start, leaveOut } = props;
  const [why, setWhy] = useState(false);
  useKeys((key) => {
    if (key === '?') {
      setWhy(!why);
    }
    return key === '?';
  });
  return (
    <section aria-label="Do this next" className="pb-1">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="grow">Do this next</h2>
        <p className="text-[14px] text-ink-2">
          {minutes(act.minutes)}
          {act.isDead && act.kind !== 'leave' && start.safety.state.condition !== 'provedDead' && (
            <>
              ,{' '}
              <Link className="link" to={`/visits/${start.visitId}/safe`}>
                dead: prove it first
              </Link>
            </>
          )}
        </p>
        <button
          type="button"
          aria-expanded={why}
          className="cursor-pointer text-[14px] text-ink-2 max-[899px]:min-h-[44px]"
          onClick={() => setWhy(!why)}
        >
          Why this <Key>?</Key>
        </button>
      </div>
      {act.kind === 'read' ? (
        <ToRead {...props} />
      ) : act.choices.length > 0 ? (
        <ToSee {...props} />
      ) : (
        <p className="py-2 text-[26px] leading-tight font-bold">{act.words}</p>
      )}
      {why && <p className="py-1 text-[14px]">{act.why}.</p>}
      <ul aria-label="What each outcome means">
        {act.outcomes.slice(0, 4).map((o) => (
          <li
            key={o.words}
            className="grid grid-cols-[170px_1fr_54px] gap-x-3 border-b border-rule py-1 leading-snug max-[899px]:grid-cols-[110px_1fr_48px]"
          >
            <span className="font-mono">{o.words}</span>
            <span>{o.means}</span>
            <span className="text-right font-mono text-[14px] text-ink-2">{Math.round(100 * o.chance)} %</span>
          </li>
        ))}
      </ul>
      {act.kind === 'leave' ? (
        <p className="py-1">
          <Link className="link inline-flex min-h-[44px] items-center" to={`/visits/${start.visitId}`}>
            End the visit
          </Link>
        </p>
      ) : (
        act.kind !== 'fit' && (
          <button type="button" className="link mt-1 text-[14px] max-[899px]:min-h-[44px]" onClick={leaveOut}>
            Cannot be done here
          </button>
        )
      )}
    </section>
  );
}

/** A clamp around a wire. */
function Jaw() {
  return (
    <svg viewBox="0 0 20 34" width={20} height={34} aria-hidden="true" className="shrink-0">
      <circle cx={10} cy={13} r={8} fill="none" className="stroke-ink" strokeWidth={3} />
      <path d="M10 21 V32" className="stroke-ink" strokeWidth={5} />
      <circle cx={10} cy={13} r={2.5} className="fill-rust" />
    </svg>
  );
}

function ToRead({ view: { visitId }, act, round, personId, stored }: DoNextProps) {
  const [typed, setTyped] = useDraft(`reason-reading/${act.id}`);
  const [shows, setShows] = useDraft(`reason-shows/${act.id}`);
  const [error, setError] = useState<Refusal | null>(null);
  const field = useRef<HTMLInputElement>(null);
  const chosen = useRef<number | null>(null);
  const row = act.checkKey ? round?.rows.find((r) => r.key === act.checkKey) : undefined;
  const keep = async (what: Partial<NewLine> = {}) => {
    if (!round || !typed.trim()) {
      return;
    }
    chosen.current = what.choice ?? null;
    const said = withShowing(typed, shows);
    const line: NewLine = row
      ? lineOf(row, personId, { typed: said, ...what })
      : {
          id: newId(),
          order: nextOrder(),
          kind: 'taken',
          checkKey: null,
          red: probed(act.red),
          black: probed(act.black),
          mode: act.mode,
          state: act.state,
          plugged: null,
          limit: null,
          tolerance: { percent: 5, volts: 0.3, ohms: 0.5 },
          typed: said,
          choice: null,
          target: null,
          reason: '',
          deviceTime: new Date().toISOString(),
          personId,
          meter: meterName(),
          ...what,
        };
    setError(null);
    const outcome = await store(round.id, line);
    if (outcome.kind === 'refused') {
      await discard(line.id);
      setError(outcome.refusal);
      return;
    }
    setTyped('');
    setShows('');
    stored();
  };
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-6 pt-1">
        <div>
          {!act.black && <p className="text-ink-2">Clamp closed around the wire at</p>}
          <p className="flex items-center gap-3 font-mono text-[46px] leading-[1.1] font-bold whitespace-nowrap max-[899px]:text-[38px]">
            {act.black ? <Tip className="fill-[#b8202c]" /> : <Jaw />}
            <span>
              {act.black && <span className="sr-only">Red probe on </span>}
              {act.red?.printed}
            </span>
          </p>
          {act.black && (
            <p className="flex items-center gap-3 font-mono text-[26px] leading-[1.2] font-bold text-ink-2 max-[899px]:text-[22px]">
              <Tip className="fill-[#1b1b1b] stroke-rule-2" />
              <span>
                <span className="sr-only">Black probe on </span>
                {act.black.printed}
              </span>
            </p>
          )}
        </div>
        <p className="min-w-0 leading-snug">
          {act.red && (
            <b>
              <Wire colours={act.red.colours} words={act.red.colourWords} />
            </b>
          )}
          <span className="block font-bold">{act.red?.signal}</span>
          <span className="block">
            {act.modeWords}, {act.stateName}
            {!act.checkKey && act.words.includes(', across ') && `, across ${act.words.split(', across ')[1] ?? ''}`}
          </span>
        </p>
      </div>
      {act.mind && <p className="py-1 text-[14px] leading-snug font-bold text-out">{act.mind}</p>}
      <div className={`mt-1 flex items-stretch border-2 ${error ? 'border-out' : 'border-ink'}`}>
        <input
          ref={field}
          autoFocus
          autoComplete="off"
          autoCapitalize="off"
          spellCheck={false}
          inputMode="decimal"
          aria-label={`Reading at ${act.red?.printed ?? ''}`}
          aria-invalid={error !== null}
          className="h-[54px] w-full min-w-0 bg-sheet px-4 font-mono text-[38px] font-bold caret-rust"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter') {
              event.preventDefault();
              void keep();
            } else if (event.key === '*' && typed === '') {
              event.preventDefault();
              setTyped('OL');
            } else if (event.key === '/' && act.watch) {
              event.preventDefault();
              setShows(nextShowing(shows));
            }
          }}
        />
        <span className="flex min-w-[58px] items-center justify-center border-l border-rule-2 px-3 text-[24px] text-ink-2">
          {act.unit}
        </span>
        <button type="button" className="action min-w-[84px]" disabled={!typed.trim()} onClick={() => void keep()}>
          Store
        </button>
      </div>
      {act.watch && <Meanwhile watch={act.watch} sign="/" shows={shows} setShows={setShows} />}
      <AskLive
        error={error}
        answer={(alive: LiveAnswer) =>
          void keep({ alive, ...(chosen.current === null ? {} : { choice: chosen.current }) })
        }
        mistyped={() => {
          setError(null);
          setTyped('');
          field.current?.focus();
        }}
      />
      {error?.problem.needsReason ? (
        <AllTheSameHere visitId={visitId} words={error.problem.detail ?? ''} say={(reason) => void keep({ reason })} />
      ) : (
        <Choice error={error} choose={(choice) => void keep({ choice })} />
      )}
    </>
  );
}

/** What is read dead on a machine that nobody proved dead: prove it, or say why it is read all the same. */
function AllTheSameHere({ visitId, words, say }: { visitId: string; words: string; say: (reason: string) => void }) {
  const [reason, setReason] = useState('');
  return (
    <form
      role="alert"
      className="my-2 border-l-4 border-out bg-out-wash px-4 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (reason.trim()) {
          say(reason.trim());
        }
      }}
    >
      <p>{words}</p>
      <div className="mt-1 flex flex-wrap items-end gap-3">
        <Link className="link inline-flex min-h-[44px] items-center" to={`/visits/${visitId}/safe`}>
          Prove it dead
        </Link>
        <label className="grow">
          Measured all the same, because
          <input className="field mt-1" autoFocus value={reason} onChange={(event) => setReason(event.target.value)} />
        </label>
        <button type="submit" className="quiet min-h-[44px] border-ink font-bold" disabled={!reason.trim()}>
          Store
        </button>
      </div>
    </form>
  );
}

/** What somebody does and sees: one press for each that may come of it. */
function ToSee({ act, start, say }: DoNextProps) {
  const [lead, size] = leads[act.kind] ?? ['', 'text-[26px]'];
  return (
    <div className="py-1">
      <p className={`${size} leading-tight font-bold`}>{act.words}</p>
      <p className={act.kind === 'try' || act.kind === 'look' ? '' : 'text-ink-2'}>
        {[lead, act.stateName].filter(Boolean).join(', ')}
        {lead || act.stateName ? '. ' : ''}
        {act.mind}
      </p>
      <div className="mt-2 flex flex-wrap gap-3">
        {act.choices.map(({ words, line }, i) => (
          <button
            key={words}
            type="button"
            autoFocus={i === 0 && act.kind !== 'fit'}
            className="quiet min-h-[48px] border-ink px-4 text-[17px] font-bold"
            onClick={() => void say(line)}
          >
            {words}
          </button>
        ))}
      </div>
      {start.hasEnded && <p className="text-ink-2">The visit has ended.</p>}
    </div>
  );
}
