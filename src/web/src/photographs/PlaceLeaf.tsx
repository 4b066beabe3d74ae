import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import {
  editPlace,
  retirePlace,
  type MeterMode,
  type PhotographPage as Page,
  type PinAddress,
  type PlaceView,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { History } from '../history/History';
import { meterModes } from '../measuring/modes';
import { leaveOut, post, useOutbox, whereabouts } from '../outbox/outbox';
import { meterName, usePerson } from '../people/person';
import { Choose, optionsOf } from '../ui/Choose';
import { KeptProblem, KeptWord } from '../ui/Kept';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';
import { useDraft } from '../ui/useDraft';
import { useKeeping } from '../ui/useKeeping';
import { MakePart } from './MakePart';
import { MakePin } from './MakePin';
import { PictureText } from './PictureText';

/** A place that the ledger may not have yet. */
export interface Place {
  id: string;
  x: number;
  y: number;
  name: string;
  number: number;
  known: PlaceView | undefined;
}

export function Places({ places, choose, page }: { places: Place[]; choose: (id: string) => void; page: Page }) {
  return (
    <>
      <h2 className="border-b border-rule-2 pb-1">Places</h2>
      {places.length === 0 && <p className="py-2 text-ink-2">None yet. Tap the picture where you measure.</p>}
      <ul>
        {places.map((place) => (
          <li key={place.id} className="border-b border-rule">
            <button
              type="button"
              className="grid min-h-[44px] w-full cursor-pointer grid-cols-[30px_1fr_auto] items-center gap-2 text-left hover:bg-rust-wash"
              onClick={() => choose(place.id)}
            >
              <b className="font-mono">{place.number}</b>
              <span className="min-w-0 truncate">
                {place.known?.printed && <b className="mr-2 font-mono">{place.known.printed}</b>}
                {place.name || place.known?.note || (place.known ? 'no name yet' : 'waits on this device')}
              </span>
              <b className="font-mono">{place.known?.readings[0]?.value}</b>
            </button>
          </li>
        ))}
      </ul>
      <PictureText page={page} />
    </>
  );
}

interface PlaceLeafProps {
  place: Place;
  page: Page;
  leave: () => void;
  /** Called when the place was taken away. */
  gone: () => void;
}

export function PlaceLeaf({ place, page, leave, gone }: PlaceLeafProps) {
  return (
    <>
      <div className="flex items-baseline justify-between border-b border-rule-2 pb-1">
        <h2 className="font-mono text-[22px]">{place.known?.printed ?? `Place ${place.number}`}</h2>
        <button type="button" className="link min-h-[32px] max-[899px]:min-h-[44px]" onClick={leave}>
          All places
        </button>
      </div>
      <PlaceReadings place={place} page={page} />
      {place.known ? (
        <>
          <PlaceText
            place={place.known}
            page={page}
            gone={() => {
              gone();
              leave();
            }}
          />
          {!place.known.pinId && !place.known.partId && <MakePin place={place.known} page={page} />}
          {!place.known.positionId && <MakePart place={place.known} page={page} />}
          <History kind="Place" recordId={place.id} />
        </>
      ) : (
        <p className="mt-3 text-ink-2">The place waits on this device; it can be named when the ledger has it.</p>
      )}
    </>
  );
}

function PlaceReadings({ place, page }: { place: Place; page: Page }) {
  const person = usePerson();
  const [typed, setTyped] = useDraft(`place/${place.id}`);
  const [mode, setMode] = useState<MeterMode>('dcVolts');
  // Where the black probe is clipped it stays, from place to place.
  const [black, setBlack] = useDraft(`black/${page.photograph.machineId}`);
  const [state, setState] = useDraft(`state/${page.photograph.machineId}`);
  const blacks = [
    ...page.commons.map((c) => ({ value: JSON.stringify(c.address), words: c.printed })),
    ...page.places.flatMap((p) =>
      p.address && p.id !== place.id
        ? [{ value: JSON.stringify(p.address), words: p.printed ?? (p.name || `place ${p.number}`) }]
        : [],
    ),
  ].filter((b, i, all) => all.findIndex((other) => other.value === b.value) === i);
  const at = blacks.find((b) => b.value === black);
  const known = page.states.find((s) => s.code === state);
  const [problem, setProblem] = useState<string | null>(null);
  const path = `/api/places/${place.id}/readings`;
  const waiting = useOutbox().filter((p) => p.path === path && !p.refused);
  const keep = async () => {
    if (!typed.trim()) {
      return;
    }
    const [id, text] = [newId(), typed];
    setTyped('');
    setProblem(null);
    const outcome = await post({
      id,
      path,
      words: `reading ${text} on a photograph of ${page.tag}`,
      machineId: page.photograph.machineId,
      photographId: page.photograph.id,
      json: {
        id,
        order: Date.now(),
        visitId: newId(),
        roundId: newId(),
        mode,
        typed: text,
        choice: null,
        deviceTime: new Date().toISOString(),
        personId: person?.id ?? '',
        meter: meterName(),
        black: at ? (JSON.parse(at.value) as PinAddress) : null,
        state: known?.code ?? null,
      },
    });
    if (outcome.kind === 'refused') {
      await leaveOut(id);
      setTyped(text);
      setProblem(outcome.why);
    }
  };
  return (
    <form
      className="mt-2"
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <div className="flex items-end gap-2">
        <label className="grow">
          Reads
          <input
            autoFocus
            autoComplete="off"
            inputMode="text"
            className="field mt-0.5 font-mono text-[24px]"
            aria-invalid={problem !== null}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        <label>
          Meter
          <Choose className="mt-0.5 min-h-[50px]" value={mode} options={optionsOf(meterModes)} onChange={setMode} />
        </label>
      </div>
      <div className="mt-2 grid grid-cols-2 gap-2">
        <label>
          Black probe at
          <Choose
            className="mt-0.5"
            value={at?.value ?? ''}
            options={[{ value: '', words: 'not said' }, ...blacks]}
            onChange={setBlack}
          />
        </label>
        <label>
          State
          <Choose
            className="mt-0.5"
            value={known?.code ?? ''}
            options={[
              { value: '', words: 'as the meter goes' },
              ...page.states.map((s) => ({ value: s.code, words: s.name })),
            ]}
            onChange={setState}
          />
        </label>
      </div>
      <button type="submit" className="action mt-2 min-h-[57px] w-full">
        Store the reading
      </button>
      {problem && (
        <div role="alert" className="my-2 border-l-4 border-out bg-out-wash px-3 py-1 text-[14px]">
          {problem}
        </div>
      )}
      <ul className="mt-2 text-[14px]" aria-label="Readings here">
        {waiting.map((p) => (
          <li key={p.id} className="flex items-center gap-2 border-b border-rule py-1">
            <Mark kind="notJudged" />
            <b className="font-mono">{(p.json as { typed: string }).typed}</b> {whereabouts(p)}
          </li>
        ))}
        {place.known?.readings.map((r) => (
          <li key={r.id} className="flex flex-wrap justify-between gap-x-2 border-b border-rule py-1">
            <span>
              <b className="font-mono">{r.value}</b> {r.remark} {r.mode}
            </span>
            <span className="text-ink-2">
              {dayOf(r.at)} {clockOf(r.at)}, {r.person}
            </span>
          </li>
        ))}
      </ul>
    </form>
  );
}

function PlaceText({ place, page, gone }: { place: PlaceView; page: Page; gone: () => void }) {
  const queries = useQueryClient();
  const fresh = () => queries.invalidateQueries({ queryKey: ['photograph', page.photograph.id] });
  const { edit, write, keep, keepOver, settle, isChanged, isKeeping, isClash, error } = useKeeping(
    `place-text/${place.id}`,
    {
      version: place.version,
      x: place.x,
      y: place.y,
      name: place.name,
      note: place.note,
    },
    async (next, client) => {
      const now = await ask(editPlace({ client, path: { id: place.id }, body: next }));
      void fresh();
      void queries.invalidateQueries({ queryKey: ['edits', 'Place', place.id] });
      return now;
    },
  );
  const away = useMutation({
    mutationFn: () => ask(retirePlace({ path: { id: place.id } })),
    onSuccess: async () => {
      await fresh();
      gone();
    },
  });
  const field = (name: 'name' | 'note', label: string) => (
    <label className="mt-2 block text-[14px]">
      {label}
      <input
        className="field mt-0.5"
        value={edit[name]}
        onChange={(event) => write({ ...edit, [name]: event.target.value })}
        onBlur={() => isChanged && !isClash && void keep(edit)}
      />
    </label>
  );
  return (
    <form
      className="mt-3"
      onSubmit={(event) => {
        event.preventDefault();
        void keep(edit);
      }}
    >
      {field('name', 'Name')}
      {field('note', 'Note')}
      <KeptProblem error={error} edit={edit} keepMine={(version) => void keepOver(edit, version)} takeTheirs={settle} />
      <p className="mt-2 flex items-center gap-3">
        <button type="submit" className="quiet">
          Keep
        </button>
        <button type="button" className="quiet" onClick={() => away.mutate()}>
          Take the place away
        </button>
        <KeptWord isKeeping={isKeeping} isChanged={isChanged} />
      </p>
      <Problem error={away.error} />
    </form>
  );
}
