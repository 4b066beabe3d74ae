import { useRef, useState } from 'react';
import type { LiveAnswer, MeterMode, OtherLegView, ProbeView, RoundView, RowView } from '../api/generated';
import { Refusal } from '../api/ledger';
import { newId } from '../api/newId';
import { meterName } from '../people/person';
import { Choose, optionsOf } from '../ui/Choose';
import { PinBox } from '../ui/PinBox';
import { Problem } from '../ui/Problem';
import { Tabs } from '../ui/Tabs';
import { AskLive } from './AskLive';
import { CalledForm } from './CalledForm';
import { nextOrder, type Outcome, store, discard } from './lines';
import { meterModes } from './modes';
import { probed } from './sheet';
import { isBegun, useDraft } from '../ui/useDraft';
import { useKeys } from '../ui/useKeys';

interface ExtraReadingProps {
  view: RoundView;
  current: RowView | undefined;
  personId: string;
  /** The leg that is asked for: the probes, and how the other was read. */
  probes?: OtherLegView | undefined;
  /** With what was typed behind the reading while it was stored: it belongs to the next. */
  close: (next?: string) => void;
}

const ways = [
  ['one', 'Between two points'],
  ['called', 'As one calls them'],
] as const;

/** A reading between any two points that no check asks for, or several as they are called out. */
export function ExtraReading(props: ExtraReadingProps) {
  const [way, setWay] = useState<'one' | 'called'>(
    !props.probes && isBegun(`called/${props.view.id}`) ? 'called' : 'one',
  );
  useKeys((key) => {
    if (key === 'Escape') {
      props.close();
    }
    return key === 'Escape';
  });
  return (
    <section aria-label="One more reading" className="settle border-y-2 border-ink bg-sheet py-3">
      <div className="flex flex-wrap items-end gap-5">
        <h2 className="grow">Extra reading</h2>
        <Tabs name="Extra reading" value={way} onChange={setWay} tabs={ways} />
      </div>
      {/* Asked for the other leg while it is open, it takes those probes. */}
      {way === 'one' ? <OneReading key={props.probes ? 'leg' : 'any'} {...props} /> : <Called {...props} />}
    </section>
  );
}

/** What the meter and the machine are set to, where a reading does not say. */
const setUpOf = (view: RoundView, current: RowView | undefined) => ({
  mode: (current?.mode === 'word' || current?.mode === 'lamp' ? 'dcVolts' : (current?.mode ?? 'dcVolts')) as MeterMode,
  state: current?.state ?? view.states[0]?.code ?? 'off',
});

function Called({ view, current, personId, close }: ExtraReadingProps) {
  return (
    <CalledForm
      view={view}
      black={current?.black ?? null}
      {...setUpOf(view, current)}
      personId={personId}
      close={close}
    />
  );
}

/** Mode, state and black probe stay as they are. */
function OneReading({ view, current, personId, probes, close }: ExtraReadingProps) {
  const [red, setRed] = useState<ProbeView | null>(probes?.red ?? null);
  const [black, setBlack] = useState<ProbeView | null>(probes?.black ?? current?.black ?? null);
  const [mode, setMode] = useState<MeterMode>(probes?.mode ?? setUpOf(view, current).mode);
  const [state, setState] = useState(probes?.state ?? setUpOf(view, current).state);
  const [typed, setTyped] = useDraft(`extra/${view.id}`);
  const [error, setError] = useState<Error | null>(null);
  const [choices, setChoices] = useState<string[]>([]);
  // Which of two readings was chosen, while it is asked whether it is live.
  const chosen = useRef<number | null>(null);
  const field = useRef<HTMLInputElement>(null);
  const keep = async (choice: number | null, alive: LiveAnswer | null = null) => {
    if (!red || !typed.trim()) {
      setError(new Error(red ? 'Type what the meter shows.' : 'Choose the pin under the red probe.'));
      return;
    }
    const id = newId();
    chosen.current = choice;
    // The field is free at once: who types on has the next reading before the eyes.
    setTyped('');
    const outcome: Outcome = await store(view.id, {
      id,
      order: nextOrder(),
      kind: 'taken',
      checkKey: null,
      red: probed(red),
      black: probed(black),
      mode,
      state,
      plugged: null,
      limit: null,
      tolerance: current?.tolerance ?? { percent: 5, volts: 0.3, ohms: 0.5 },
      typed,
      choice,
      alive,
      target: null,
      reason: '',
      deviceTime: new Date().toISOString(),
      personId,
      meter: meterName(),
    });
    if (outcome.kind === 'refused') {
      await discard(id);
      setTyped([typed, field.current?.value].filter(Boolean).join(' '));
      setChoices(outcome.refusal.problem.choices ?? []);
      setError(outcome.refusal);
      return;
    }
    const next = field.current?.value ?? '';
    setTyped('');
    close(next);
  };
  const asked = error instanceof Refusal && error.problem.asksLive ? error : null;
  return (
    <form
      aria-label="Extra reading"
      onSubmit={(event) => {
        event.preventDefault();
        void keep(null);
      }}
    >
      <div className="mt-2 grid grid-cols-2 gap-3 min-[900px]:grid-cols-[1fr_1fr_130px_150px]">
        <PinBox label="Red probe" pins={view.pins} value={red} onChange={setRed} autoFocus={probes === undefined} />
        <PinBox label="Black probe" pins={view.pins} value={black} onChange={setBlack} />
        <label>
          Meter
          <Choose className="mt-1" value={mode} options={optionsOf(meterModes)} onChange={setMode} />
        </label>
        <label>
          State
          <Choose
            className="mt-1"
            value={state}
            options={view.states.map((s) => ({ value: s.code, words: s.name }))}
            onChange={setState}
          />
        </label>
      </div>
      <div className="mt-3 flex items-end gap-3">
        <label className="grow">
          Reads
          <input
            ref={field}
            className="field mt-1 font-mono text-[22px]"
            value={typed}
            autoComplete="off"
            autoFocus={probes !== undefined}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        <button type="submit" className="action">
          Store
        </button>
        <button type="button" className="quiet min-h-[44px]" onClick={() => close()}>
          Leave
        </button>
      </div>
      {choices.map((choice, i) => (
        <button key={choice} type="button" className="quiet mt-2 mr-2 font-mono" onClick={() => void keep(i)}>
          {choice}
        </button>
      ))}
      <AskLive
        error={asked}
        answer={(alive) => void keep(chosen.current, alive)}
        mistyped={() => {
          setError(null);
          setTyped('');
        }}
      />
      {!asked && <Problem error={error} />}
    </form>
  );
}
