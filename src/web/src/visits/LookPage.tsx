import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { BoardNoteView, VisitStart } from '../api/generated';
import { BoardMap } from '../boards/BoardMap';
import { ElementLeaf } from '../boards/ElementLeaf';
import { EyeFound } from '../boards/EyeFound';
import { useFacing } from '../boards/facing';
import { FacingKeys } from '../boards/FacingKeys';
import { Notes } from '../boards/Notes';
import { type PlaceOnBoard, wholeBoard } from '../boards/place';
import { useBoardMap } from '../boards/useBoardMap';
import { SafeBand } from '../safety/SafeBand';
import { Frame } from '../ui/Frame';
import { Mark } from '../ui/Mark';
import { OpeningPage } from '../ui/OpeningPage';
import { Problem } from '../ui/Problem';
import { Tabs } from '../ui/Tabs';
import { useDone, useStart } from './start';
import { SkipStep, VisitMargin } from './VisitMargin';

/** The step Look: board by board, what the eye finds is pinned where it is, and lamps and codes are read. */
export function LookPage() {
  const { visitId } = useParams();
  const start = useStart(visitId);
  if (!start.data) {
    return <OpeningPage title="Look" words="Opening the visit…" of={[start]} />;
  }
  return <Look start={start.data} />;
}

function Look({ start }: { start: VisitStart }) {
  const [position, setPosition] = useState<string | undefined>(start.boards[0]?.positionId);
  const [place, setPlace] = useState<PlaceOnBoard>(wholeBoard);
  const facing = useFacing(start.machineId, position);
  const map = useBoardMap(start.machineId, position, facing.facing);
  const { done, error } = useDone(start);
  const looked = start.steps.find((s) => s.step === 'look');
  const board = map.data?.positionId === position ? map.data : undefined;
  const element = place.pinId ? undefined : board?.elements.find((e) => e.id === place.elementId);
  const choose = (id: string) => {
    setPosition(id);
    setPlace(wholeBoard);
  };
  const finish = () =>
    done({
      to: 'observations',
      words: 'boards looked over',
      json: { kind: 'lookedOver', text: 'Boards looked over', at: new Date().toISOString() },
    });
  return (
    <Frame
      tag={start.tag}
      title={start.machineName}
      place={start.site}
      band={<SafeBand start={start} />}
      margin={<VisitMargin start={start} here="look" />}
      marginLast
      leafName="What is found"
      leaf={
        board && facing.facing ? (
          <>
            {element && <ElementLeaf key={element.id} element={element} board={board} />}
            {!start.hasEnded && (
              <EyeFound board={board} facing={facing.facing} place={place} whole={() => setPlace(wholeBoard)} />
            )}
            <Notes board={board} pinId={place.pinId} elementId={place.elementId} />
          </>
        ) : (
          <p className="text-ink-2">The board’s notes stand here.</p>
        )
      }
    >
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule-2 pb-1">
        <h2 className="title grow">Look the boards over</h2>
        <FacingKeys {...facing} />
      </div>
      {start.boards.length === 0 ? (
        <p className="py-3">
          No board of this machine is known yet.{' '}
          <Link className="link" to={`/machines/${encodeURIComponent(start.tag)}`}>
            Add one on the page of {start.tag}
          </Link>
          , or take photographs.
        </p>
      ) : (
        <Tabs
          name="Board"
          value={position ?? ''}
          tabs={start.boards.map((b) => [b.positionId, b.name])}
          onChange={choose}
        />
      )}
      <Problem error={map.error ?? error} retry={() => void map.refetch()} />
      {position && !board && map.isPending && <p className="py-3 text-ink-2">Laying out the board…</p>}
      {board && (
        <>
          <BoardMap
            map={board}
            red={place.pinId}
            chosen={element?.id}
            onPick={(p) => setPlace({ elementId: p.elementId, pinId: p.id, words: p.printed })}
            onPickElement={(e) => setPlace({ elementId: e.id, words: e.designator })}
            onPickNote={(n: BoardNoteView) =>
              setPlace({
                ...(n.elementId ? { elementId: n.elementId } : { x: n.x ?? 0, y: n.y ?? 0 }),
                ...(n.pinId ? { pinId: n.pinId } : {}),
                words: n.where,
              })
            }
            onTap={(x, y) => setPlace({ x, y, words: 'this place' })}
            className="mt-2 max-h-[430px] w-full"
          />
          <p className="mt-1 flex flex-wrap gap-x-5 text-[14px]">
            <Link
              className="link inline-flex min-h-[44px] items-center"
              to={`/machines/${encodeURIComponent(start.tag)}/boards/${board.positionId}/codes`}
            >
              Read its lamps, digits and beeps
            </Link>
            <Link
              className="link inline-flex min-h-[44px] items-center"
              to={`/machines/${encodeURIComponent(start.tag)}/boards/${board.positionId}?on=photograph`}
            >
              On its photograph
            </Link>
          </p>
        </>
      )}
      {!start.hasEnded && looked?.status !== 'done' && start.boards.length > 0 && (
        <p className="mt-2 flex flex-wrap items-center gap-4">
          <button type="button" className="action" onClick={() => void finish()}>
            Looked over: {looked?.words === 'not yet' ? 'nothing found' : (looked?.words ?? '')}
          </button>
        </p>
      )}
      {looked?.status === 'done' && (
        <p className="mt-2 flex items-center gap-2">
          <Mark kind="within" /> Looked over: {looked.words}
        </p>
      )}
      <SkipStep start={start} step="look" />
    </Frame>
  );
}
