import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useParams, useSearchParams } from 'react-router';
import { beginSnapshot, getSettings, type MachineSettings, type SnapshotKind } from '../api/generated';
import { ask } from '../api/ledger';
import { newId } from '../api/newId';
import { called } from '../boards/called';
import { PlaceMargin } from '../machines/MachineMargin';
import { usePerson } from '../people/person';
import { Choose } from '../ui/Choose';
import { Frame } from '../ui/Frame';
import { Problem } from '../ui/Problem';
import { Tabs } from '../ui/Tabs';
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
      margin={<PlaceMargin tag={tag} />}
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

/** Which board, and which of its snapshots. */
function Which({ settings }: { settings: MachineSettings }) {
  const { board, snapshot, choose } = useChosen(settings);
  return (
    <div className="mb-2 flex flex-wrap items-center gap-x-6 border-b border-rule-2">
      <Tabs
        className="grow"
        name="Board"
        value={board?.fittedBoardId ?? ''}
        tabs={settings.boards.map((b) => [
          b.fittedBoardId,
          `${b.positionName}${b.to ? `, no. ${b.serial}, out ${b.to}` : ''}`,
        ])}
        onChange={(id) => choose({ board: id })}
      />
      {board && board.snapshots.length > 1 && (
        <label className="flex items-center gap-2 text-[14px]">
          Snapshot
          <Choose
            className="w-auto"
            value={snapshot?.id ?? ''}
            options={board.snapshots.map((s) => ({
              value: s.id,
              words: `${dayOf(s.takenAt)} ${snapshotWords[s.kind]}`,
            }))}
            onChange={(id) => choose({ snapshot: id })}
          />
        </label>
      )}
    </div>
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
      <Which settings={settings} />
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
