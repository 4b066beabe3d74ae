import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { setValue, type DefinitionView, type SnapshotView } from '../api/generated';
import { ask, Refusal } from '../api/ledger';
import { letGo, textOf, throughQueue } from '../outbox/forms';
import { leaveOut, type Parcel, sendAgain, useOutbox } from '../outbox/outbox';
import { Clash } from '../ui/Clash';
import { Problem } from '../ui/Problem';
import { SuggestBox } from '../ui/SuggestBox';
import { useWritten } from '../ui/useDraft';

interface Typed {
  code: string;
  value: string;
  /** Of the value it goes over; 0 for a code that is not there yet. */
  version: number;
}

/** From a display: code, value, Enter. The next code is offered in the order they are defined. */
export function TypeIn({ snapshot, definitions }: { snapshot: SnapshotView; definitions: DefinitionView[] }) {
  const queries = useQueryClient();
  const codeBox = useRef<HTMLInputElement>(null);
  const valueBox = useRef<HTMLInputElement>(null);
  const known = new Map(snapshot.values.map((v) => [v.code.toLowerCase(), v]));
  const open = definitions.filter((d) => !known.has(d.code.toLowerCase()));
  const [{ code, value }, setTyped] = useWritten(`setting-value/${snapshot.id}`, { code: '', value: '' });
  const now = useRef({ code, value });
  const put = (next: { code: string; value: string }) => {
    now.current = next;
    setTyped(next);
  };
  const isOpen = useRef(true);
  useEffect(() => {
    isOpen.current = true;
    return () => void (isOpen.current = false);
  }, []);
  // What is refused goes back into the boxes, to be mended where it was typed; unless the hand has gone on.
  const isFree = () => isOpen.current && now.current.value.trim() === '';
  const [error, setError] = useState<Error | null>(null);
  const form = `form/setting-value/${snapshot.id}/`;
  // What the ledger would not take while the next was typed: it stands aside in the queue, and is told here.
  const unsaid = useOutbox().flatMap((parcel) => (parcel.refused && parcel.form?.startsWith(form) ? [parcel] : []));
  const definition = definitions.find((d) => d.code.toLowerCase() === code.trim().toLowerCase());
  /** Each value goes through what waits on this device, so that it is in order with the rest and goes with its page closed. */
  const save = async (typed: Typed) => {
    setError(null);
    const body = { version: typed.version, value: typed.value };
    const client = throughQueue(form + typed.code, textOf(body), () => undefined, isFree);
    try {
      await ask(setValue({ client, path: { id: snapshot.id, code: typed.code }, body }));
    } catch (failure) {
      // Another value of the same code may have taken its place meanwhile.
      if (isFree() && !(failure instanceof Refusal && failure.status === 503)) {
        put({ code: typed.code, value: typed.value });
        valueBox.current?.focus();
        setError(failure as Error);
      }
    }
    await queries.invalidateQueries({ queryKey: ['settings'] });
  };
  /** The next code stands there at once, so that the hand need not wait for the ledger. */
  const store = () => {
    const typed: Typed = {
      code: definition?.code ?? code.trim(),
      value,
      version: known.get(code.trim().toLowerCase())?.version ?? 0,
    };
    const at = definitions.findIndex((d) => d.code === definition?.code);
    const next = open.find((d) => definitions.indexOf(d) > at);
    put({ code: next?.code ?? '', value: '' });
    (next ? valueBox : codeBox).current?.focus();
    void save(typed);
  };
  const clash = error instanceof Refusal && error.problem.theirs ? error.problem : undefined;
  return (
    <form
      aria-label="Type a setting"
      className="mt-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (code.trim() && !value.trim()) {
          valueBox.current?.focus();
        } else if (code.trim()) {
          store();
        }
      }}
    >
      <div className="flex items-end gap-2">
        <label className="w-[130px]">
          Code
          <SuggestBox
            field={codeBox}
            autoFocus
            usual={definitions.map((d) => ({ text: d.code, words: d.name }))}
            className="field mt-0.5 font-mono text-[24px]"
            value={code}
            onChange={(text) => put({ code: text, value })}
          />
        </label>
        <label className="grow">
          Value <span className="text-ink-2">{[definition?.name, definition?.range].filter(Boolean).join(', ')}</span>
          <input
            ref={valueBox}
            autoComplete="off"
            className="field mt-0.5 font-mono text-[24px]"
            value={value}
            onChange={(event) => put({ code, value: event.target.value })}
          />
        </label>
        <button type="submit" className="action min-h-[50px]">
          Store <span className="font-mono text-[12px] font-normal">Enter</span>
        </button>
      </div>
      {clash ? (
        <Clash
          problem={clash}
          keepMine={() => {
            put({ code, value: '' });
            void save({ code: code.trim(), value, version: clash.version ?? 0 });
          }}
          takeTheirs={() => {
            setError(null);
            put({ code, value: '' });
            void queries.invalidateQueries({ queryKey: ['settings'] });
          }}
        />
      ) : (
        <Problem error={error} />
      )}
      <Unsaid
        parcels={unsaid}
        mend={(parcel) => {
          void leaveOut(parcel.id);
          put({ code: codeOf(parcel), value: valueOf(parcel) });
          valueBox.current?.focus();
        }}
      />
    </form>
  );
}

const codeOf = ({ path }: Parcel) => decodeURIComponent(path.slice(path.lastIndexOf('/') + 1));
const valueOf = ({ json }: Parcel) => (json as { value: string }).value;

interface UnsaidProps {
  parcels: Parcel[];
  mend: (parcel: Parcel) => void;
}

/** Settings that were typed and that the ledger would not take: they stand here, each with its acts. */
function Unsaid({ parcels, mend }: UnsaidProps) {
  return parcels.length === 0 ? null : (
    <ul aria-label="Not kept yet" className="mt-2 border-l-4 border-out pl-3 text-[14px]">
      {parcels.map((parcel) => (
        <li key={parcel.id} className="flex flex-wrap items-center gap-3 border-b border-rule">
          <b className="font-mono">
            {codeOf(parcel)} {valueOf(parcel)}
          </b>
          <span className="grow text-out">not kept: {parcel.refused}</span>
          {(
            [
              ['Send again', () => void sendAgain(parcel.id)],
              ['Mend', () => mend(parcel)],
              ['Let go', () => void letGo(parcel)],
            ] as const
          ).map(([words, act]) => (
            <button key={words} type="button" className="link min-h-[34px] max-[899px]:min-h-[44px]" onClick={act}>
              {words}
            </button>
          ))}
        </li>
      ))}
    </ul>
  );
}
