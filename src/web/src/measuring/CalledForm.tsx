import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import {
  addNamedPlace,
  type CalledView,
  type LiveAnswer,
  lookAtCalled,
  type MeterMode,
  type ProbeView,
  type RoundView,
} from '../api/generated';
import { ask, Refusal } from '../api/ledger';
import { newId } from '../api/newId';
import { meterName } from '../people/person';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { useDraft } from '../ui/useDraft';
import { AddPins } from './AddPins';
import { AskLive } from './AskLive';
import { discard, nextOrder, store } from './lines';

interface CalledFormProps {
  view: RoundView;
  black: ProbeView | null;
  mode: MeterMode;
  state: string;
  personId: string;
  close: () => void;
}

/** Readings as one calls them: any two pins, runs along a plug, one line after the other. */
export function CalledForm({ view, black, mode, state, personId, close }: CalledFormProps) {
  const [text, setText] = useDraft(`called/${view.id}`);
  const box = useRef<HTMLTextAreaElement>(null);
  const [error, setError] = useState<Error | null>(null);
  const [isStoring, setStoring] = useState(false);
  const look = useQuery({
    queryKey: ['called', view.id, text, black?.printed, mode, state],
    queryFn: () =>
      ask(lookAtCalled({ path: { id: view.id }, body: { text, black: black?.address ?? null, mode, state } })),
    enabled: text.trim() !== '',
    placeholderData: (before) => before,
    staleTime: Infinity,
  });
  const called = text.trim() === '' ? [] : (look.data ?? []);
  const queries = useQueryClient();
  const unknown = [...new Set(called.flatMap((c) => c.unknown))];
  // A name that nobody entered is kept with its reading, and placed later.
  const good = called.filter((c) => c.problem === '' || c.unknown.length > 0);
  /** Keeps the names that nobody entered, and gives the readings as they are understood then. */
  const named = async (): Promise<CalledView[]> => {
    if (unknown.length === 0) {
      return called;
    }
    for (const name of unknown) {
      await ask(
        addNamedPlace({
          path: { id: view.machineId },
          body: { id: newId(), name, at: new Date().toISOString(), personId },
        }),
      );
    }
    return (await look.refetch({ throwOnError: true })).data ?? called;
  };
  /** Stores what is understood, in its order; what is not stays in the box. */
  const keep = async (alive: LiveAnswer | null = null) => {
    if (look.isFetching || isStoring || good.length === 0) {
      return;
    }
    setStoring(true);
    setError(null);
    const said = text.split('\n');
    const done: string[] = [];
    try {
      const now = await named();
      for (const line of [...new Set(now.map((c) => c.line))]) {
        const here = now.filter((c) => c.line === line);
        if (here.some((c) => c.problem !== '')) {
          continue;
        }
        const refusal = await storeAll(view.id, here, personId, alive);
        if (refusal) {
          setError(refusal);
          break;
        }
        done.push(said[line - 1] ?? '');
      }
    } catch (failure) {
      setError(failure as Error);
    }
    // A line stays as it was called until all of it is stored, and so does what was called meanwhile.
    const lines = (box.current?.value ?? text).split('\n');
    for (const line of done) {
      const at = lines.indexOf(line);
      lines.splice(at, at < 0 ? 0 : 1);
    }
    const rest = lines.join('\n');
    setText(rest.trim() === '' ? '' : rest);
    setStoring(false);
    void queries.invalidateQueries({ queryKey: ['names', view.machineId] });
    if (rest.trim() === '') {
      close();
    }
  };
  const asked = error instanceof Refusal && error.problem.asksLive ? error : null;
  return (
    <form
      aria-label="Readings as called"
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <label className="mt-2 block">
        As you say it
        <textarea
          ref={box}
          autoFocus
          rows={3}
          className="field mt-1 font-mono text-[18px]"
          placeholder={'J3-4 to J3-2 5.1\nJ4: 24.1 0 5.02 OL - 12'}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && event.ctrlKey) {
              event.preventDefault();
              void keep();
            }
          }}
        />
      </label>
      <p className="text-[14px] text-ink-2">
        A line each. <span className="font-mono">J4: 24.1 0 - 12</span> fills its pins in their order,{' '}
        <span className="font-mono">-</span> leaves one out; after <span className="font-mono">J4-3 24</span> a bare{' '}
        <span className="font-mono">4 5.02</span> is J4-4. A state may stand behind.
      </p>
      <Problem error={look.error} />
      <ul aria-label="As understood" className="max-h-[26dvh] overflow-y-auto">
        {called.map((c, i) => (
          <li key={`${c.line} ${i}`} className="flex items-center gap-2 border-t border-rule py-0.5">
            <span className="w-[18px] shrink-0">
              {c.problem !== '' && <Mark kind={c.unknown.length > 0 ? 'untouched' : 'marginal'} />}
            </span>
            <span className="font-mono">
              {c.redName}
              {c.black && ` to ${c.black.printed}`} <b>{c.reads}</b>
            </span>
            <span className="text-[14px] text-ink-2">
              {c.unknown.length > 0
                ? `${c.problem}; kept under that name`
                : c.problem === ''
                  ? `${c.stateName}${c.limit ? `, should read ${c.limit}` : ', no check asks for it'}${c.black ? '' : ', no black probe named'}`
                  : c.problem}
            </span>
          </li>
        ))}
      </ul>
      {unknown.length > 0 && <AddPins machineId={view.machineId} names={unknown} added={() => void look.refetch()} />}
      <div className="mt-2 flex items-end gap-3">
        <button type="submit" className="action" disabled={good.length === 0 || isStoring}>
          Store {good.length} <Key>Ctrl Enter</Key>
        </button>
        <button type="button" className="quiet min-h-[44px]" onClick={close}>
          Leave
        </button>
      </div>
      <AskLive error={asked} answer={(alive) => void keep(alive)} mistyped={() => setError(null)} />
      {!asked && <Problem error={error} />}
    </form>
  );
}

/** Stores readings one after the other; gives the first refusal. */
export async function storeAll(
  roundId: string,
  called: CalledView[],
  personId: string,
  alive: LiveAnswer | null,
): Promise<Refusal | undefined> {
  for (const c of called) {
    const id = newId();
    const outcome = await store(roundId, {
      id,
      order: nextOrder(),
      kind: 'taken',
      checkKey: c.checkKey,
      red: c.red,
      black: c.black,
      mode: c.mode,
      state: c.state,
      plugged: c.plugged,
      limit: c.limit,
      tolerance: c.tolerance,
      typed: c.reads,
      choice: null,
      alive,
      target: null,
      reason: '',
      deviceTime: new Date().toISOString(),
      personId,
      meter: meterName(),
    });
    if (outcome.kind === 'refused') {
      await discard(id);
      return outcome.refusal;
    }
  }
  return undefined;
}
