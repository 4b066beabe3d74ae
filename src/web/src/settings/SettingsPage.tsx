import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useParams, useSearchParams } from 'react-router';
import { beginSnapshot, getSettings, type MachineSettings, type SnapshotKind } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { called } from '../boards/called';
import { PlaceMargin } from '../machines/MachineMargin';
import { usePerson } from '../people/person';
import { Frame } from '../ui/Frame';
import { Problem } from '../ui/Problem';
import { dayOf } from '../ui/time';
import { Definitions } from './Definitions';
import { Snapshot } from './Snapshot';
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
