import { called } from '../boards/called';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import {
  beginSnapshot,
  getSettings,
  retireValue,
  setValue,
  type BoardSettings,
  type DefinitionView,
  type MachineSettings,
  type SnapshotKind,
  type SnapshotView,
  type ValueView,
} from '../api/generated';
import { ask, Refusal } from '../api/ledger';
import { newId } from '../api/newId';
import { History } from '../history/History';
import { usePerson } from '../people/person';
import { take } from '../photographs/take';
import { TakeButton } from '../photographs/TakeButton';
import { Clash } from '../ui/Clash';
import { PlaceMargin } from '../machines/MachineMargin';
import { Frame } from '../ui/Frame';
import { Key } from '../ui/Key';
import { Mark } from '../ui/Mark';
import { Problem } from '../ui/Problem';
import { clockOf, dayOf } from '../ui/time';
import { Compared } from './Compared';
import { Definitions } from './Definitions';
import { TakeList } from './TakeList';
import { snapshotWords } from './words';

/** The settings of a machine's boards: what was found, what was left, and what differs. */
export function SettingsPage() {
  const { tag = '' } = useParams();
  const settings = useQuery({
    queryKey: ['settings', tag],
    queryFn: () => ask(getSettings({ path: { machineId: tag } })),
  });
  return (
    <Frame
      tag={tag}
      title="Settings"
      place={settings.data?.machineName ?? ''}
      marginLast
      margin={
        <>
          {settings.data && <Margin settings={settings.data} />}
          <div className="mt-4 border-t border-rule-2 pt-2">
            <PlaceMargin tag={tag} />
          </div>
        </>
      }
    >
      <Problem error={settings.error} retry={() => void settings.refetch()} />
      {settings.isPending && <p className="py-4 text-ink-2">Opening the settings…</p>}
      {settings.data && <Boards settings={settings.data} />}
    </Frame>
  );
}

function useChosen(settings: MachineSettings) {
  const [params, setParams] = useSearchParams();
  const asked = params.get('snapshot');
  const snapshot = settings.boards.flatMap((b) => b.snapshots).find((s) => s.id === asked);
  const board =
    settings.boards.find((b) => b.fittedBoardId === (snapshot?.fittedBoardId ?? params.get('board'))) ??
    settings.boards.find((b) => b.snapshots.length > 0) ??
    settings.boards[0];
  return {
    board,
    snapshot: snapshot ?? board?.snapshots[0],
    choose: (what: { board?: string; snapshot?: string }) => setParams(what, { replace: true }),
  };
}

function Margin({ settings }: { settings: MachineSettings }) {
  const { board, snapshot, choose } = useChosen(settings);
  return (
    <>
      <h2 className="text-[15px] text-ink-2">Boards</h2>
      <ul>
        {settings.boards.map((b) => (
          <li key={b.fittedBoardId}>
            <button
              type="button"
              aria-pressed={b === board}
              className={`min-h-[34px] w-full cursor-pointer text-left max-[899px]:min-h-[44px] ${b === board ? 'font-bold' : ''}`}
              onClick={() => choose({ board: b.fittedBoardId })}
            >
              {b.positionName}
              {b.to && (
                <span className="block text-[14px] text-ink-2">
                  no. {b.serial}, out {b.to}
                </span>
              )}
            </button>
          </li>
        ))}
      </ul>
      {board && board.snapshots.length > 0 && (
        <>
          <h2 className="mt-3 text-[15px] text-ink-2">Snapshots</h2>
          <ul>
            {board.snapshots.map((s) => (
              <li key={s.id}>
                <button
                  type="button"
                  aria-pressed={s === snapshot}
                  className={`min-h-[34px] w-full cursor-pointer text-left max-[899px]:min-h-[44px] ${s === snapshot ? 'font-bold' : ''}`}
                  onClick={() => choose({ snapshot: s.id })}
                >
                  {dayOf(s.takenAt)} <span className="text-ink-2">{snapshotWords[s.kind]}</span>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

function Boards({ settings }: { settings: MachineSettings }) {
  const person = usePerson();
  const queries = useQueryClient();
  const { board, snapshot, choose } = useChosen(settings);
  const begin = useMutation({
    mutationFn: (kind: SnapshotKind) =>
      ask(
        beginSnapshot({
          body: {
            id: newId(),
            machineId: settings.machineId,
            fittedBoardId: board?.fittedBoardId ?? '',
            visitId: null,
            kind,
            takenAt: new Date().toISOString(),
            personId: person?.id ?? '',
            note: '',
          },
        }),
      ),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: ['settings'] });
      choose({ snapshot: made.id });
    },
  });
  if (!board) {
    return (
      <p className="py-4">
        No board is fitted yet; settings belong to a board with its serial.{' '}
        <Link className="link" to={`/machines/${encodeURIComponent(settings.tag)}`}>
          Fit one on the page of {settings.tag}
        </Link>
      </p>
    );
  }
  return (
    <div className="max-w-[1020px]">
      <div className="flex flex-wrap items-center gap-3 border-b border-rule-2 pb-2">
        <h2 className="title grow">
          {board.positionName}{' '}
          <span className="font-mono text-[16px] font-normal">
            {called(board)}
            {board.serial && `, no. ${board.serial}`}
            {board.firmware && `, firmware ${board.firmware}`}
          </span>
        </h2>
        <button type="button" className="quiet" onClick={() => begin.mutate('asFound')}>
          New snapshot, as found
        </button>
        <button type="button" className="quiet" onClick={() => begin.mutate('asLeft')}>
          New snapshot, as left
        </button>
      </div>
      {board.to && (
        <p className="py-1 text-[14px] text-marginal">This board went out on {board.to}. Its settings stay with it.</p>
      )}
      <Problem error={begin.error} />
      {snapshot ? (
        <Snapshot key={snapshot.id} snapshot={snapshot} board={board} settings={settings} />
      ) : (
        <p className="py-3 text-ink-2">
          No settings were noted yet. Begin a snapshot while the display still shows them.
        </p>
      )}
      <Definitions board={board} />
    </div>
  );
}

interface SnapshotProps {
  snapshot: SnapshotView;
  board: BoardSettings;
  settings: MachineSettings;
}

function Snapshot({ snapshot, board, settings }: SnapshotProps) {
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
