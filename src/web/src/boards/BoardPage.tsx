import { useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { type BoardMap as Map, type BoardNoteView, type ElementOnMap, type PinOnMap } from '../api/generated';
import { History } from '../history/History';
import { PlaceMargin } from '../machines/MachineMargin';
import { BoardPhotograph } from '../photographs/BoardPhotograph';
import { Frame } from '../ui/Frame';
import { OpeningPage } from '../ui/OpeningPage';
import { Tabs } from '../ui/Tabs';
import { Wire } from '../ui/Wire';
import { BoardMap } from './BoardMap';
import { ElementLeaf } from './ElementLeaf';
import { EyeFound } from './EyeFound';
import { FacingKeys } from './FacingKeys';
import { Notes } from './Notes';
import { PinEditor } from './PinEditor';
import { PinLeaf } from './PinLeaf';
import { called } from './called';
import { type Facing, useFacing } from './facing';
import { type PlaceOnBoard, wholeBoard } from './place';
import { useBoardMap } from './useBoardMap';

/** One board in its position: map or photograph as faced, its terminals, and the lines of what is chosen. */
export function BoardPage() {
  const { tag = '', positionId = '' } = useParams();
  const [params, setParams] = useSearchParams();
  const facing = useFacing(tag, positionId);
  const map = useBoardMap(tag, positionId, facing.facing);
  const [place, setPlace] = useState<PlaceOnBoard>(wholeBoard);
  if (!map.data || !facing.facing) {
    return <OpeningPage tag={tag} title="Board" words="Laying out the board…" of={[map]} />;
  }
  const board = map.data;
  const pin = board.pins.find((p) => p.id === place.pinId);
  const element = pin ? undefined : board.elements.find((e) => e.id === place.elementId);
  const onPhotograph = params.get('on') === 'photograph';
  const choosePin = (id: string) => {
    const chosen = board.pins.find((p) => p.id === id);
    if (chosen) {
      setPlace({ elementId: chosen.elementId, pinId: id, words: chosen.printed });
    }
  };
  const on = {
    red: place.pinId ?? '',
    chosen: element?.id,
    onPick: (p: PinOnMap) => choosePin(p.id),
    onPickElement: (e: ElementOnMap) => setPlace({ elementId: e.id, words: e.designator }),
    onPickNote: (n: BoardNoteView) =>
      setPlace({
        ...(n.elementId ? { elementId: n.elementId } : { x: n.x ?? 0, y: n.y ?? 0 }),
        ...(n.pinId ? { pinId: n.pinId } : {}),
        words: n.where,
      }),
    onTapPlace: (x: number, y: number) => setPlace({ x, y, words: 'this place' }),
  };
  return (
    <Frame
      tag={tag}
      margin={<PlaceMargin tag={tag} here="look" />}
      marginLast
      title={`${board.positionName}, ${board.boardName}`}
      place={called(board)}
      leaf={
        <>
          {pin && <PinLeaf key={pin.id} pin={pin} board={board} />}
          {element && <ElementLeaf key={element.id} element={element} board={board} />}
          <EyeFound board={board} facing={facing.facing} place={place} whole={() => setPlace(wholeBoard)} />
          <Notes board={board} pinId={place.pinId} elementId={place.elementId} />
          {pin && (
            <>
              <PinEditor key={`${board.boardTypeId} ${pin.id}`} pin={pin} board={board} />
              <History kind="Pin" recordId={`${board.boardTypeId}/${pin.elementId}/${pin.id}`} />
            </>
          )}
        </>
      }
    >
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2 border-b border-rule-2 pb-2">
        <h2 className="title grow">
          {board.positionName}, {board.facingWords}
        </h2>
        <FacingKeys {...facing} />
      </div>
      <nav aria-label="This board" className="flex flex-wrap gap-x-5 text-[14px]">
        <Tabs
          name="As"
          value={onPhotograph ? 'photograph' : 'map'}
          tabs={[
            ['map', 'Map'],
            ['photograph', 'Photograph'],
          ]}
          onChange={(view) => setParams(view === 'map' ? {} : { on: view }, { replace: true })}
        />
        <span className="grow" />
        {(
          [
            [`/machines/${encodeURIComponent(tag)}/boards/${positionId}/codes`, 'Codes'],
            [
              `/board-types/${board.boardTypeId}/layout?machine=${board.machineId}&position=${board.positionId}`,
              'Lay it out',
            ],
            [`/machines/${encodeURIComponent(tag)}`, `Back to ${tag}`],
          ] as const
        ).map(([to, words]) => (
          <Link key={to} to={to} className="link inline-flex min-h-[36px] items-center max-[899px]:min-h-[44px]">
            {words}
          </Link>
        ))}
      </nav>
      <Card tag={tag} positionId={positionId} facing={facing.facing} />
      {onPhotograph ? (
        <BoardPhotograph board={board} facing={facing.facing} on={on} place={place} />
      ) : (
        <div className="flex flex-col gap-6 py-3 min-[900px]:flex-row">
          <figure className="min-w-0 min-[900px]:w-[52%]">
            <BoardMap map={board} {...on} onTap={on.onTapPlace} className="max-h-[600px] w-full" />
            <figcaption className="mt-1 text-[14px] text-ink-2">
              {board.isSizeGuess
                ? 'Nobody has measured this board yet: places and sizes are a sketch.'
                : `${board.width} × ${board.height} mm, to scale.`}{' '}
              The square pin is pin 1.
            </figcaption>
          </figure>
          <div className="min-w-0 grow">
            <Terminals board={board} chosen={place.pinId} choose={choosePin} tag={tag} />
          </div>
        </div>
      )}
    </Frame>
  );
}

/** The card for the cabinet door, as faced. */
function Card({ tag, positionId, facing }: { tag: string; positionId: string; facing: Facing }) {
  const card = (form: string) =>
    `/api/machines/${encodeURIComponent(tag)}/boards/${positionId}/card.${form}?turns=${facing.turns}&side=${facing.side}`;
  return (
    <p className="flex flex-wrap items-center gap-x-5 text-[14px] text-ink-2">
      Card for the cabinet door:
      {['pdf', 'svg', 'csv'].map((form) => (
        <a
          key={form}
          className="link inline-flex min-h-[32px] items-center uppercase max-[899px]:min-h-[44px]"
          href={card(form)}
          download
        >
          {form}
        </a>
      ))}
      {(['board', 'plug'] as const).map((kind) => (
        <Link
          key={kind}
          className="link inline-flex min-h-[32px] items-center max-[899px]:min-h-[44px]"
          to={`/labels?machines=${encodeURIComponent(tag)}&kind=${kind}&columns=5&rows=13`}
        >
          {kind === 'board' ? 'Labels for the boards' : 'Labels for the plugs'}
        </Link>
      ))}
    </p>
  );
}

interface TerminalsProps {
  board: Map;
  chosen: string | undefined;
  choose: (pin: string) => void;
  tag: string;
}

function Terminals({ board, chosen, choose, tag }: TerminalsProps) {
  return (
    <>
      <div className="flex flex-wrap items-baseline gap-4 border-b border-rule-2 pb-1">
        <h2 className="grow">Terminals</h2>
        <a
          className="link inline-flex min-h-[32px] items-center"
          href={`/api/board-types/${board.boardTypeId}/terminals.csv`}
          download
        >
          To a spreadsheet
        </a>
        <Link
          className="link inline-flex min-h-[32px] items-center"
          to={`/machines/${encodeURIComponent(tag)}/boards/${board.positionId}/terminals`}
        >
          From a spreadsheet
        </Link>
        <Link
          className="link inline-flex min-h-[32px] items-center"
          to={`/board-types/${board.boardTypeId}?table=pin&machine=${board.machineId}&position=${board.positionId}`}
        >
          In tables
        </Link>
      </div>
      {board.pins.length === 0 ? (
        <p className="py-3">No terminals yet. Take them in from a spreadsheet.</p>
      ) : (
        <div className="max-h-[600px] overflow-auto" role="region" aria-label="Terminals" tabIndex={0}>
          <table className="w-full border-collapse text-[14px]">
            <caption className="sr-only">Terminals of {board.positionName}</caption>
            <thead>
              <tr className="text-left text-ink-2 [&>th]:py-1 [&>th]:pr-3 [&>th]:font-medium">
                <th scope="col">Pin</th>
                <th scope="col">Wire</th>
                <th scope="col">What it does</th>
              </tr>
            </thead>
            <tbody>
              {board.pins.map((pin) => (
                <tr
                  key={pin.id}
                  className={`border-t border-rule [&>td]:pr-3 ${pin.id === chosen ? 'bg-rust-wash' : ''}`}
                >
                  <td>
                    <button
                      type="button"
                      className="min-h-[32px] cursor-pointer font-mono max-[899px]:min-h-[44px]"
                      aria-pressed={pin.id === chosen}
                      onClick={() => choose(pin.id)}
                    >
                      {pin.printed}
                    </button>
                  </td>
                  <td>
                    <Wire colours={pin.colours} words={pin.colourWords} />
                  </td>
                  <td>{pin.signal}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}
