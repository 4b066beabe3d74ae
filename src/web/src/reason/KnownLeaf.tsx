import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import {
  editObservation,
  type KnownView,
  lookAtCalled,
  type ReasonView,
  type RoundView,
  retireObservation,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { storeAll } from '../measuring/CalledForm';
import { nextOrder, store } from '../measuring/lines';
import { meterName } from '../people/person';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { useDraft } from '../ui/useDraft';
import { useKeys } from '../ui/useKeys';

interface KnownLeafProps {
  view: ReasonView;
  round: RoundView | undefined;
  personId: string;
  hasEnded: boolean;
  say: (text: string) => Promise<boolean>;
}

/** What is known, each with what it does to the suspects; more of it is typed at the top. */
export function KnownLeaf({ view, round, personId, hasEnded, say }: KnownLeafProps) {
  const [all, setAll] = useState(false);
  const known = [...view.known].reverse();
  const most = 8;
  return (
    <section aria-label="What is known">
      {!hasEnded && <AddKnown view={view} round={round} personId={personId} say={say} />}
      {known.length + view.notUsed.length === 0 && (
        <p className="py-2 text-ink-2">
          Nothing yet. Say what does not work, and what does: each that works speaks for what it needs.
        </p>
      )}
      <ul>
        {(all ? known : known.slice(0, most)).map((k) => (
          <Known key={k.id} of={k} view={view} round={round} personId={personId} hasEnded={hasEnded} />
        ))}
        {view.notUsed.map((k) => (
          <Known key={k.id} of={k} view={view} round={round} personId={personId} hasEnded={hasEnded} unused />
        ))}
      </ul>
      {known.length > most && (
        <button type="button" className="link mt-1 text-[14px] max-[899px]:min-h-[44px]" onClick={() => setAll(!all)}>
          {all ? 'The last ones alone' : `${known.length - most} more, the oldest last`}
        </button>
      )}
    </section>
  );
}

/** A line of what was seen, or readings as one calls them. */
function AddKnown({ view, round, personId, say }: Omit<KnownLeafProps, 'hasEnded'>) {
  const [text, setText] = useDraft(`known/${view.visitId}`);
  const [error, setError] = useState<Error | null>(null);
  const [busy, setBusy] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  useKeys((key) => {
    if (key === 'F4') {
      field.current?.focus();
    }
    return key === 'F4';
  });
  const keep = async () => {
    const line = text.trim();
    if (!line || busy) {
      return;
    }
    setBusy(true);
    setError(null);
    try {
      // As the last reading was taken, and against what the sheet reads the pin against.
      const state =
        round?.states.find((s) => s.name === round.last?.state)?.code ?? round?.states.find((s) => s.energised)?.code;
      // A reading ends in what a meter shows.
      const called =
        round && /(\d|OL|0L)\s*\S*(\s+(not\s+)?showing)?$/i.test(line)
          ? await ask(
              lookAtCalled({
                path: { id: round.id },
                body: { text: line, black: null, mode: 'dcVolts', state: state ?? '' },
              }),
            ).catch(() => [])
          : [];
      if (round && called.length > 0 && called.every((c) => c.problem === '')) {
        const refusal = await storeAll(round.id, called, personId, null);
        if (refusal) {
          setError(refusal);
          return;
        }
      } else if (!(await say(line))) {
        return;
      }
      setText('');
    } finally {
      setBusy(false);
    }
  };
  return (
    <form
      aria-label="More that is known"
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <div className="flex items-center border border-ink bg-sheet">
        <input
          ref={field}
          list="reason-names"
          autoComplete="off"
          aria-label="What was seen or read"
          placeholder="zone 1 works · J3-1 17.4 · F1 blows"
          className="min-h-[44px] w-full min-w-0 bg-sheet px-3"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <span className="px-2 max-[899px]:hidden">
          <Key>F4</Key>
        </span>
      </div>
      <details className="text-[14px] text-ink-2">
        <summary className="cursor-pointer py-1 max-[899px]:min-h-[44px]">What can be said</summary>
        <ul className="pb-2">
          {sayings.map(([line, of]) => (
            <li key={line} className="grid grid-cols-[1fr_auto] gap-x-3 border-b border-rule py-0.5">
              <span className="font-mono">{line}</span>
              <span className="text-right">{of}</span>
            </li>
          ))}
        </ul>
      </details>
      <datalist id="reason-names">
        {view.names.map((n) => (
          <option key={n} value={n} />
        ))}
      </datalist>
      <Problem error={error} />
    </form>
  );
}

/** Ways of saying it, each with what it is. */
const sayings = [
  ['zone 3 creeps, zones 1 and 2 run', 'tried'],
  ['J3-1 17.4 · J3-1 17.4 not showing', 'read'],
  ['M3 looks burnt', 'looked at'],
  ['wiggled Z3-J3: it came and went', 'moved'],
  ['swapped M3 with M2: the fault stayed', 'swapped'],
  ['replaced F1: the fault went', 'fitted'],
  ['F1 blows at once · F1 holds with J3 pulled', 'closed again'],
  ['zone 3: 2 blinks · shows E4 · 4 beeps', 'a code'],
  ['nothing for 20 min · came back after 30 s', 'watched'],
  ['anything, and a question mark', 'doubted'],
];

interface KnownProps {
  of: KnownView;
  view: ReasonView;
  round: RoundView | undefined;
  personId: string;
  hasEnded: boolean;
  unused?: boolean;
}

function Known({ of, view, round, personId, hasEnded, unused = false }: KnownProps) {
  const queries = useQueryClient();
  const [error, setError] = useState<Error | null>(null);
  const fresh = () => queries.invalidateQueries({ queryKey: ['reason', view.visitId] });
  const takeBack = async () => {
    setError(null);
    try {
      if (of.from === 'reading') {
        await store(of.roundId, retraction(of, round, personId));
      } else {
        await ask(retireObservation({ path: { id: of.recordId } }));
      }
      await queries.invalidateQueries({ queryKey: ['start', view.visitId] });
      await queries.invalidateQueries({ queryKey: ['round'] });
      await fresh();
    } catch (failure) {
      setError(failure as Error);
    }
  };
  const doubt = async () => {
    setError(null);
    try {
      const text = of.isDoubted ? of.text.replace(/\s*\?$/, '') : `${of.text} ?`;
      await ask(editObservation({ path: { id: of.recordId }, body: { version: of.version, text, isDone: false } }));
      await queries.invalidateQueries({ queryKey: ['start', view.visitId] });
      await fresh();
    } catch (failure) {
      setError(failure as Error);
    }
  };
  return (
    <li className="border-b border-rule py-1.5">
      <p className="flex gap-2 leading-snug">
        <span className="pt-0.5">
          <Mark
            kind={unused ? 'notJudged' : of.isGood === true ? 'within' : of.isGood === false ? 'low' : 'marginal'}
          />
        </span>
        <span className="min-w-0 grow">
          {of.words}
          {of.isDoubted && <b> doubted</b>}
          <span className="block text-[14px] text-ink-2">
            {unused ? 'not counted: ' : ''}
            {of.tells}
            {of.from === 'complaint' && ', from the complaint'}
          </span>
        </span>
        {!hasEnded && of.recordId && (
          <span className="flex shrink-0 flex-col items-end text-[14px]">
            <button
              type="button"
              className="link min-h-[24px] max-[899px]:min-h-[44px]"
              aria-label={`Take back: ${of.words}`}
              onClick={() => void takeBack()}
            >
              Take back
            </button>
            {of.from === 'seen' && !unused && (
              <button
                type="button"
                className="link min-h-[24px] max-[899px]:min-h-[44px]"
                aria-label={`${of.isDoubted ? 'Trust' : 'Doubt'}: ${of.words}`}
                onClick={() => void doubt()}
              >
                {of.isDoubted ? 'Trust' : 'Doubt'}
              </button>
            )}
          </span>
        )}
      </p>
      <Problem error={error} />
    </li>
  );
}

const retraction = (of: KnownView, round: RoundView | undefined, personId: string) => ({
  id: newId(),
  order: nextOrder(),
  kind: 'retracted' as const,
  checkKey: round?.rows.find((r) => r.reading?.id === of.recordId)?.key ?? null,
  red: null,
  black: null,
  mode: 'dcVolts' as const,
  // Every line names a state; of a take-back it says nothing.
  state: round?.states[0]?.code ?? 'off',
  plugged: null,
  limit: null,
  tolerance: { percent: 5, volts: 0.3, ohms: 0.5 },
  typed: '',
  choice: null,
  target: of.recordId,
  reason: '',
  deviceTime: new Date().toISOString(),
  personId,
  meter: meterName(),
});
