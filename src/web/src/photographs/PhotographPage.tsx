import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type KeyboardEvent, type MouseEvent, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import {
  editPhotograph,
  editPlace,
  getPhotograph,
  makePlacePin,
  retirePhotograph,
  retirePlace,
  type MeterMode,
  type PhotographPage as Page,
  type PhotographKind,
  type PlaceAsPin,
  type PlaceView,
} from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { History } from '../history/History';
import { meterModes } from '../measuring/modes';
import { leaveOut, post, useOutbox } from '../outbox/outbox';
import { meterName, usePerson } from '../people/person';
import { PlaceMargin } from '../machines/MachineMargin';
import { Frame } from '../ui/Frame';
import { KeptProblem, KeptWord } from '../ui/Kept';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';
import { useKeeping } from '../ui/useKeeping';
import { kindWords } from './take';
import { useDraft } from '../ui/useDraft';

/** A place that the ledger may not have yet. */
interface Place {
  id: string;
  x: number;
  y: number;
  name: string;
  number: number;
  known: PlaceView | undefined;
}

/** A photograph with the places tapped on it: named or not, read or not; later they are pins. */
export function PhotographPage() {
  const { photographId = '' } = useParams();
  const page = useQuery({
    queryKey: ['photograph', photographId],
    queryFn: () => ask(getPhotograph({ path: { id: photographId } })),
  });
  if (!page.data) {
    return (
      <Frame title="Photograph">
        {page.isPending ? (
          <p className="py-6 text-ink-2">Opening the photograph…</p>
        ) : (
          <Problem error={page.error} retry={() => void page.refetch()} />
        )}
      </Frame>
    );
  }
  return <Loaded key={photographId} page={page.data} />;
}

function Loaded({ page }: { page: Page }) {
  const { photograph, tag } = page;
  const waiting = useOutbox().filter((p) => p.photographId === photograph.id);
  const [chosen, setChosen] = useState<string | null>(null);
  // What was tapped here stays in sight between the ledger's taking it and its telling of it.
  const [tapped, setTapped] = useState<Place[]>([]);
  const unsent: Place[] = waiting
    .filter((p) => p.path.endsWith('/places'))
    .map((p, i) => {
      const { x, y } = p.json as { x: number; y: number };
      return { id: p.id, x, y, name: '', number: page.places.length + 1 + i, known: undefined };
    });
  const places = [...page.places.map((known): Place => ({ ...known, known })), ...unsent, ...tapped].filter(
    (place, i, all) => all.findIndex((p) => p.id === place.id) === i,
  );
  const tap = (x: number, y: number) => {
    const id = newId();
    setTapped([...tapped, { id, x, y, name: '', number: places.length + 1, known: undefined }]);
    setChosen(id);
    void post({
      id,
      path: `/api/photographs/${photograph.id}/places`,
      words: `place on a photograph of ${tag}`,
      machineId: photograph.machineId,
      photographId: photograph.id,
      json: { id, x, y, name: '', note: '' },
    });
  };
  const place = places.find((p) => p.id === chosen);
  return (
    <Frame
      tag={tag}
      margin={<PlaceMargin tag={tag} />}
      marginLast
      title={`Photograph, ${kindWords[photograph.kind]}`}
      place={page.machineName}
      leafName="The places"
      leaf={
        place ? (
          <PlaceLeaf
            key={place.id}
            place={place}
            page={page}
            leave={() => setChosen(null)}
            gone={() => setTapped(tapped.filter((t) => t.id !== chosen))}
          />
        ) : (
          <Places places={places} choose={setChosen} page={page} />
        )
      }
    >
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 pb-2 text-[14px]">
        <span className="grow text-ink-2">
          {dayOf(photograph.takenAt)} {clockOf(photograph.takenAt)}, {photograph.person}. Tap what you measure, or move
          the cross with the arrow keys and press <Key>Enter</Key>.
        </span>
        <Link
          className="link inline-flex min-h-[32px] items-center max-[899px]:min-h-[44px]"
          to={`/machines/${encodeURIComponent(tag)}/photographs`}
        >
          All photographs
        </Link>
        <Link
          className="link inline-flex min-h-[32px] items-center max-[899px]:min-h-[44px]"
          to={`/machines/${encodeURIComponent(tag)}`}
        >
          Page of {tag}
        </Link>
      </div>
      <Picture page={page} places={places} chosen={chosen} choose={setChosen} tap={tap} />
    </Frame>
  );
}

interface PictureProps {
  page: Page;
  places: Place[];
  chosen: string | null;
  choose: (id: string) => void;
  tap: (x: number, y: number) => void;
}

const clamp = (v: number) => Math.min(1, Math.max(0, v));
const step = 0.01;

function Picture({ page, places, chosen, choose, tap }: PictureProps) {
  const { photograph } = page;
  const [cross, setCross] = useState<{ x: number; y: number } | null>(null);
  const onKey = (event: KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    const from = cross ?? { x: 0.5, y: 0.5 };
    if (by) {
      event.preventDefault();
      const size = event.shiftKey ? step * 5 : step;
      setCross({ x: clamp(from.x + (by[0] ?? 0) * size), y: clamp(from.y + (by[1] ?? 0) * size) });
    }
  };
  const onTap = (event: MouseEvent) => {
    if (event.detail === 0) {
      // Pressed by a key: at the cross.
      tap(cross?.x ?? 0.5, cross?.y ?? 0.5);
      return;
    }
    const box = event.currentTarget.getBoundingClientRect();
    tap(clamp((event.clientX - box.x) / box.width), clamp((event.clientY - box.y) / box.height));
  };
  return (
    <div
      className="relative mx-auto w-fit max-w-full border border-rule-2"
      style={{ aspectRatio: `${photograph.width} / ${photograph.height}` }}
      data-testid="picture"
    >
      <img
        src={`/api/pictures/${photograph.hash}`}
        alt={photograph.caption || kindWords[photograph.kind]}
        width={photograph.width}
        height={photograph.height}
        className="block max-h-[calc(100dvh-130px)] w-auto max-w-full"
      />
      <button
        type="button"
        aria-label="The picture: tap a place, or move the cross and press Enter"
        className="absolute inset-0 size-full cursor-crosshair"
        onClick={onTap}
        onKeyDown={onKey}
        onBlur={() => setCross(null)}
      />
      {cross && (
        <svg
          className="pointer-events-none absolute size-[40px] -translate-1/2 text-rust"
          style={{ left: `${cross.x * 100}%`, top: `${cross.y * 100}%` }}
          viewBox="-20 -20 40 40"
          aria-hidden="true"
        >
          <path d="M-20,0 H20 M0,-20 V20" stroke="currentColor" strokeWidth={3} />
        </svg>
      )}
      {places.map((place) => (
        <button
          key={place.id}
          type="button"
          className={`absolute grid size-[44px] -translate-1/2 place-items-center`}
          style={{ left: `${place.x * 100}%`, top: `${place.y * 100}%` }}
          aria-label={`Place ${place.number}${place.name && `, ${place.name}`}`}
          aria-pressed={place.id === chosen}
          onClick={() => choose(place.id)}
        >
          <span
            className={`grid size-[26px] place-items-center border-2 font-mono text-[14px] font-bold ${
              place.id === chosen ? 'border-rust bg-rust text-on-rust' : 'border-ink bg-sheet text-ink'
            }`}
          >
            {place.number}
          </span>
        </button>
      ))}
    </div>
  );
}

function Places({ places, choose, page }: { places: Place[]; choose: (id: string) => void; page: Page }) {
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

/** What the photograph shows, and of which board. */
function PictureText({ page }: { page: Page }) {
  const { photograph } = page;
  const queries = useQueryClient();
  const go = useNavigate();
  const [edit, setEdit] = useState({
    version: photograph.version,
    kind: photograph.kind,
    caption: photograph.caption,
    positionId: photograph.positionId,
  });
  const { keep, keepOver, settle, kept, isKeeping, isClash, error } = useKeeping(edit, async (next) => {
    const now = await ask(editPhotograph({ path: { id: photograph.id }, body: next }));
    void queries.invalidateQueries({ queryKey: ['photographs'] });
    void queries.invalidateQueries({ queryKey: ['edits', 'Photograph', photograph.id] });
    return now;
  });
  const away = useMutation({
    mutationFn: () => ask(retirePhotograph({ path: { id: photograph.id } })),
    onSuccess: async () => {
      await queries.invalidateQueries();
      await go(`/machines/${encodeURIComponent(page.tag)}/photographs`);
    },
  });
  const set = (next: typeof edit) => {
    setEdit(next);
    void keep(next);
  };
  return (
    <section aria-label="The photograph" className="mt-4 text-[14px]">
      <h2 className="flex items-baseline justify-between border-b border-rule-2 pb-1">
        The photograph
        <KeptWord isKeeping={isKeeping} isChanged={edit.caption !== kept.caption} />
      </h2>
      <label className="mt-2 block">
        What it shows
        <input
          className="field mt-0.5"
          value={edit.caption}
          onChange={(event) => setEdit({ ...edit, caption: event.target.value })}
          onBlur={() => edit.caption !== kept.caption && !isClash && void keep(edit)}
        />
      </label>
      <div className="mt-2 grid grid-cols-2 gap-2">
        <label>
          Kind
          <select
            className="field mt-0.5"
            value={edit.kind}
            onChange={(event) => set({ ...edit, kind: event.target.value as PhotographKind })}
          >
            {Object.entries(kindWords).map(([k, words]) => (
              <option key={k} value={k}>
                {words}
              </option>
            ))}
          </select>
        </label>
        <label>
          Board
          <select
            className="field mt-0.5"
            value={edit.positionId ?? ''}
            onChange={(event) => set({ ...edit, positionId: event.target.value || null })}
          >
            <option value="">not said</option>
            {page.positions.map((p) => (
              <option key={p.id} value={p.id}>
                {p.prefix} {p.name}
              </option>
            ))}
          </select>
        </label>
      </div>
      <KeptProblem
        error={error}
        edit={edit}
        keepMine={(version) => void keepOver(edit, version)}
        takeTheirs={(theirs) => {
          setEdit(theirs);
          settle(theirs);
        }}
      />
      <button type="button" className="quiet mt-3" onClick={() => away.mutate()}>
        Put this photograph away
      </button>
      <Problem error={away.error} />
      <History kind="Photograph" recordId={photograph.id} />
    </section>
  );
}

interface PlaceLeafProps {
  place: Place;
  page: Page;
  leave: () => void;
  /** Called when the place was taken away. */
  gone: () => void;
}

function PlaceLeaf({ place, page, leave, gone }: PlaceLeafProps) {
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
          {!place.known.pinId && <MakePin place={place.known} page={page} />}
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
          <select
            className="field mt-0.5 min-h-[50px]"
            value={mode}
            onChange={(event) => setMode(event.target.value as MeterMode)}
          >
            {meterModes.map(([m, words]) => (
              <option key={m} value={m}>
                {words}
              </option>
            ))}
          </select>
        </label>
      </div>
      <button type="submit" className="action mt-2 w-full">
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
            <b className="font-mono">{(p.json as { typed: string }).typed}</b> waits on this device
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
  const [edit, setEdit] = useState({
    version: place.version,
    x: place.x,
    y: place.y,
    name: place.name,
    note: place.note,
  });
  const { keep, keepOver, settle, kept, isKeeping, isClash, error } = useKeeping(edit, async (next) => {
    const now = await ask(editPlace({ path: { id: place.id }, body: next }));
    void fresh();
    void queries.invalidateQueries({ queryKey: ['edits', 'Place', place.id] });
    return now;
  });
  const away = useMutation({
    mutationFn: () => ask(retirePlace({ path: { id: place.id } })),
    onSuccess: async () => {
      await fresh();
      gone();
    },
  });
  const isChanged = edit.name !== kept.name || edit.note !== kept.note;
  const field = (name: 'name' | 'note', label: string) => (
    <label className="mt-2 block text-[14px]">
      {label}
      <input
        className="field mt-0.5"
        value={edit[name]}
        onChange={(event) => setEdit({ ...edit, [name]: event.target.value })}
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
      <KeptProblem
        error={error}
        edit={edit}
        keepMine={(version) => void keepOver(edit, version)}
        takeTheirs={(theirs) => {
          setEdit(theirs);
          settle(theirs);
        }}
      />
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

/** The place becomes a pin of a board; its readings stay with it. */
function MakePin({ place, page }: { place: PlaceView; page: Page }) {
  const queries = useQueryClient();
  const [pin, setPin] = useState<Omit<PlaceAsPin, 'version'>>({
    positionId: page.photograph.positionId ?? page.positions[0]?.id ?? '',
    designator: '',
    label: '',
    colours: '',
    signal: place.name,
  });
  const make = useMutation({
    mutationFn: () => ask(makePlacePin({ path: { id: place.id }, body: { ...pin, version: place.version } })),
    onSuccess: () => queries.invalidateQueries(),
  });
  if (page.positions.length === 0) {
    return (
      <p className="mt-4 border-t border-rule-2 pt-2 text-[14px]">
        To make this place a pin, add its board on the{' '}
        <Link className="link" to={`/machines/${encodeURIComponent(page.tag)}`}>
          page of {page.tag}
        </Link>{' '}
        first.
      </p>
    );
  }
  const field = (name: 'designator' | 'label' | 'colours' | 'signal', label: string) => (
    <label className="block">
      {label}
      <input
        className="field mt-0.5 font-mono"
        value={pin[name]}
        onChange={(event) => setPin({ ...pin, [name]: event.target.value })}
      />
    </label>
  );
  return (
    <form
      className="mt-4 border-t border-rule-2 pt-2 text-[14px]"
      aria-label="Make it a pin"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate();
      }}
    >
      <h3>Make it a pin</h3>
      <label className="mt-2 block">
        Board
        <select
          className="field mt-0.5"
          value={pin.positionId}
          onChange={(event) => setPin({ ...pin, positionId: event.target.value })}
        >
          {page.positions.map((p) => (
            <option key={p.id} value={p.id}>
              {p.prefix} {p.name}
            </option>
          ))}
        </select>
      </label>
      <div className="mt-2 grid grid-cols-2 gap-2">
        {field('designator', 'Connector')}
        {field('label', 'Pin')}
        {field('colours', 'Wire colours')}
        {field('signal', 'What it does')}
      </div>
      <Problem error={make.error} />
      <button type="submit" className="quiet mt-3" disabled={make.isPending}>
        Make it a pin
      </button>
    </form>
  );
}
