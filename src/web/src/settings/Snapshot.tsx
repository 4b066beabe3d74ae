import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import {
  retireValue,
  setValue,
  type BoardSettings,
  type DefinitionView,
  type MachineSettings,
  type SnapshotView,
  type ValueView,
} from '../api/generated';
import { ask, Refusal } from '../api/ledger';
import { History } from '../history/History';
import { usePerson } from '../people/person';
import { TakeButton } from '../photographs/TakeButton';
import { take } from '../photographs/take';
import { Clash } from '../ui/Clash';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';
import { Compared } from './Compared';
import { TakeList } from './TakeList';
import { snapshotWords } from './words';

interface SnapshotProps {
  snapshot: SnapshotView;
  board: BoardSettings;
  settings: MachineSettings;
}

export function Snapshot({ snapshot, board, settings }: SnapshotProps) {
  const person = usePerson();
  return (
    <section aria-label="Snapshot" className="pt-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <h3 className="grow text-[17px]">
          {snapshotWords[snapshot.kind]}, {dayOf(snapshot.takenAt)} {clockOf(snapshot.takenAt)}{' '}
          <span className="text-[14px] font-normal text-ink-2">by {snapshot.person}</span>
        </h3>
        <TakeButton
          label="Screen"
          onTake={(files) =>
            void take(files, {
              machineId: settings.machineId,
              tag: settings.tag,
              kind: 'screen',
              personId: person?.id ?? '',
              positionId: board.positionId,
              snapshotId: snapshot.id,
            })
          }
        >
          Photograph the screen
        </TakeButton>
        <a
          className="link inline-flex min-h-[32px] items-center text-[14px] max-[899px]:min-h-[44px]"
          href={`/api/snapshots/${snapshot.id}/settings.csv`}
          download
        >
          To a spreadsheet
        </a>
      </div>
      <div className="flex flex-col gap-6 min-[1000px]:flex-row">
        <div className="min-w-0 grow">
          <TypeIn snapshot={snapshot} definitions={board.definitions} />
          <Values snapshot={snapshot} />
          <TakeList snapshotId={snapshot.id} />
          <History kind="Snapshot" recordId={snapshot.id} within />
        </div>
        <div className="min-w-0 min-[1000px]:w-[440px]">
          {snapshot.photographHash && (
            <img
              src={`/api/pictures/${snapshot.photographHash}`}
              alt="the screen"
              className="mb-3 max-h-[240px] border border-rule-2"
            />
          )}
          <Compared snapshot={snapshot} board={board} settings={settings} />
        </div>
      </div>
    </section>
  );
}

interface Typed {
  code: string;
  value: string;
  /** Of the value it goes over; 0 for a code that is not there yet. */
  version: number;
}

/** From a display: code, value, Enter. The next code is offered in the order they are defined. */
function TypeIn({ snapshot, definitions }: { snapshot: SnapshotView; definitions: DefinitionView[] }) {
  const queries = useQueryClient();
  const codeBox = useRef<HTMLInputElement>(null);
  const valueBox = useRef<HTMLInputElement>(null);
  const known = new Map(snapshot.values.map((v) => [v.code.toLowerCase(), v]));
  const open = definitions.filter((d) => !known.has(d.code.toLowerCase()));
  const [code, setCode] = useState('');
  const [value, setValueText] = useState('');
  const definition = definitions.find((d) => d.code.toLowerCase() === code.trim().toLowerCase());
  const save = useMutation({
    mutationFn: (typed: Typed) =>
      ask(
        setValue({
          path: { id: snapshot.id, code: typed.code },
          body: { version: typed.version, value: typed.value },
        }),
      ),
    onError: (_, typed) => {
      // Back into the boxes, to be mended where it was typed.
      setCode(typed.code);
      setValueText(typed.value);
      valueBox.current?.focus();
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ['settings'] }),
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
    setCode(next?.code ?? '');
    setValueText('');
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
          <input
            ref={codeBox}
            autoFocus
            autoComplete="off"
            autoCapitalize="off"
            list="setting-codes"
            className="field mt-0.5 font-mono text-[24px]"
            value={code}
            onChange={(event) => setCode(event.target.value)}
          />
        </label>
        <datalist id="setting-codes">
          {definitions.map((d) => (
            <option key={d.id} value={d.code}>
              {d.name}
            </option>
          ))}
        </datalist>
        <label className="grow">
          Value <span className="text-ink-2">{[definition?.name, definition?.range].filter(Boolean).join(', ')}</span>
          <input
            ref={valueBox}
            autoComplete="off"
            className="field mt-0.5 font-mono text-[24px]"
            value={value}
            onChange={(event) => setValueText(event.target.value)}
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
            setValueText('');
            void queries.invalidateQueries({ queryKey: ['settings'] });
          }}
        />
      ) : (
        <Problem error={save.error} />
      )}
    </form>
  );
}

function Values({ snapshot }: { snapshot: SnapshotView }) {
  const queries = useQueryClient();
  const away = useMutation({
    mutationFn: (value: ValueView) => ask(retireValue({ path: { id: snapshot.id, code: value.code } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['settings'] }),
  });
  if (snapshot.values.length === 0) {
    return (
      <p className="py-2 text-ink-2">
        Nothing typed yet. Code, <Key>Enter</Key>, value, <Key>Enter</Key>.
      </p>
    );
  }
  return (
    <table className="mt-2 w-full border-collapse">
      <caption className="sr-only">Settings</caption>
      <thead>
        <tr className="text-left text-[14px] text-ink-2 [&>th]:py-1 [&>th]:pr-3 [&>th]:font-medium">
          <th scope="col">Code</th>
          <th scope="col">Name</th>
          <th scope="col" className="text-right">
            Value
          </th>
          <th scope="col">Doubt</th>
          <th scope="col">
            <span className="sr-only">Take away</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {snapshot.values.map((v) => (
          <tr key={v.code} className="border-t border-rule [&>td]:py-0.5 [&>td]:pr-3">
            <td className="font-mono font-bold">{v.code}</td>
            <td>{v.name || <span className="text-ink-2">not defined</span>}</td>
            <td className={`text-right font-mono font-bold ${v.doubt ? 'text-out' : ''}`}>
              {v.value} <span className="font-normal text-ink-2">{v.unit}</span>
            </td>
            <td className="text-[14px] text-out">
              {v.doubt && (
                <span className="inline-flex items-center gap-1.5">
                  <Mark kind="differs" /> {v.doubt}, kept
                </span>
              )}
            </td>
            <td className="text-right">
              <button
                type="button"
                className="link min-h-[30px] text-[14px] max-[899px]:min-h-[44px]"
                aria-label={`Take ${v.code} away`}
                onClick={() => away.mutate(v)}
              >
                away
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
