import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { setValue, type DefinitionView, type SnapshotView } from '../api/generated';
import { ask, Refusal } from '../api/ledger';
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

const noValues: { values: Typed[] } = { values: [] };

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
  // Whatever the ledger has not acknowledged, over a reload too: on its way, or not taken while the next were typed.
  const [{ values: unsaid }, setUnsaid] = useWritten<{ values: Typed[] }>(`settings-unsaid/${snapshot.id}`, noValues);
  const unsaidNow = useRef(unsaid);
  const putUnsaid = (values: Typed[]) => {
    unsaidNow.current = values;
    setUnsaid({ values });
  };
  const without = (typed: Typed) => unsaidNow.current.filter((v) => v.code !== typed.code);
  const [onTheWay, setOnTheWay] = useState<readonly string[]>([]);
  const definition = definitions.find((d) => d.code.toLowerCase() === code.trim().toLowerCase());
  const save = useMutation({
    mutationFn: (typed: Typed) =>
      ask(
        setValue({
          path: { id: snapshot.id, code: typed.code },
          body: { version: typed.version, value: typed.value },
        }),
      ),
    onMutate: (typed) => {
      putUnsaid([...without(typed), typed]);
      setOnTheWay((codes) => [...codes, typed.code]);
    },
    onSuccess: (_, typed) => putUnsaid(without(typed)),
    onError: (_, typed) => {
      if (now.current.value.trim() === '') {
        // Back into the boxes, to be mended where it was typed.
        putUnsaid(without(typed));
        put({ code: typed.code, value: typed.value });
        valueBox.current?.focus();
      }
    },
    onSettled: (_data, _error, typed) => {
      setOnTheWay((codes) => codes.filter((c) => c !== typed.code));
      return queries.invalidateQueries({ queryKey: ['settings'] });
    },
  });
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
    save.mutate(typed);
  };
  const clash = save.error instanceof Refusal && save.error.problem.theirs ? save.error.problem : undefined;
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
          keepMine={() => save.mutate({ code: code.trim(), value, version: clash.version ?? 0 })}
          takeTheirs={() => {
            save.reset();
            put({ code, value: '' });
            void queries.invalidateQueries({ queryKey: ['settings'] });
          }}
        />
      ) : (
        <Problem error={save.error} />
      )}
      <Unsaid
        values={unsaid.filter((v) => !onTheWay.includes(v.code))}
        send={(typed) => save.mutate(typed)}
        mend={(typed) => {
          putUnsaid([...without(typed), ...(value.trim() ? [{ code: code.trim(), value, version: 0 }] : [])]);
          put({ code: typed.code, value: typed.value });
          valueBox.current?.focus();
        }}
        letGo={(typed) => putUnsaid(without(typed))}
      />
    </form>
  );
}

interface UnsaidProps {
  values: Typed[];
  send: (typed: Typed) => void;
  mend: (typed: Typed) => void;
  letGo: (typed: Typed) => void;
}

/** Settings that were typed and that the ledger has not: they wait here, each with its acts. */
function Unsaid({ values, send, mend, letGo }: UnsaidProps) {
  return values.length === 0 ? null : (
    <ul aria-label="Not kept yet" className="mt-2 border-l-4 border-out pl-3 text-[14px]">
      {values.map((typed) => (
        <li key={typed.code} className="flex flex-wrap items-center gap-3 border-b border-rule">
          <b className="font-mono">
            {typed.code} {typed.value}
          </b>
          <span className="grow text-out">not kept</span>
          {(
            [
              ['Send again', send],
              ['Mend', mend],
              ['Let go', letGo],
            ] as const
          ).map(([words, act]) => (
            <button
              key={words}
              type="button"
              className="link min-h-[34px] max-[899px]:min-h-[44px]"
              onClick={() => act(typed)}
            >
              {words}
            </button>
          ))}
        </li>
      ))}
    </ul>
  );
}
