import { useState } from 'react';
import { Link } from 'react-router';
import type { NextActView, ReasonView, VisitStart } from '../api/generated';
import { BoardMap } from '../boards/BoardMap';
import { useFacing } from '../boards/facing';
import { FacingKeys } from '../boards/FacingKeys';
import { useBoardMap } from '../boards/useBoardMap';
import { useOverlay } from '../photographs/Overlaid';
import { PhotoMap } from '../photographs/PhotoMap';
import { Choose } from '../ui/Choose';

interface WhereProps {
  start: VisitStart;
  view: ReasonView;
  act: NextActView | undefined;
  onPhotograph: boolean;
}

/** The board, drawn or photographed, with the proposed probe, and where on it something is suspected. */
export function Where({ start, view, act, onPhotograph }: WhereProps) {
  const [picked, setPicked] = useState('');
  // Where the probe goes; else where most is suspected.
  const position =
    picked || act?.red?.position || view.pins.find((p) => p.position)?.position || start.boards[0]?.positionId;
  const facing = useFacing(start.machineId, position);
  const map = useBoardMap(start.machineId, position, facing.facing);
  const board = map.data?.positionId === position ? map.data : undefined;
  const overlay = useOverlay(onPhotograph ? (board?.photographId ?? undefined) : undefined, facing.facing);
  if (!position) {
    return <p className="text-ink-2">No board of this machine is known yet.</p>;
  }
  const here = view.pins.filter((p) => p.position === position);
  const on = {
    red: act?.red?.position === position ? act.red.pin : undefined,
    black: act?.black?.position === position ? act.black.pin : undefined,
    suspected: new Map(here.map((p) => [p.pin, p.share])),
    className: 'mt-2 max-h-[460px] w-full',
  };
  const laid = overlay.data?.isLaid && overlay.data.photographId === board?.photographId ? overlay.data : undefined;
  const elsewhere = view.pins.filter((p) => p.position !== position).slice(0, 6);
  return (
    <>
      {start.boards.length > 1 && (
        <Choose
          name="Board"
          value={position}
          options={start.boards.map((b) => ({ value: b.positionId, words: b.name }))}
          onChange={setPicked}
          className="mb-2 w-full"
        />
      )}
      <FacingKeys {...facing} />
      {!board ? (
        <p className="py-3 text-ink-2">Laying out the board…</p>
      ) : !onPhotograph ? (
        <BoardMap map={board} {...on} />
      ) : laid ? (
        <PhotoMap overlay={laid} {...on} />
      ) : board.photographId ? (
        <p className="py-3 text-ink-2">
          {overlay.data && !overlay.data.isLaid
            ? 'Nobody has laid its layout over the photograph yet.'
            : 'Opening the photograph…'}
        </p>
      ) : (
        <p className="py-3">
          No photograph of this board yet.{' '}
          <Link className="link" to={`/machines/${encodeURIComponent(start.tag)}/photographs`}>
            Take one
          </Link>
        </p>
      )}
      {here.length > 0 && (
        <p className="mt-1 text-[14px]">
          Dashed: suspected at <b className="font-mono">{here[0]?.printed}</b> {percent(here[0]?.share)}
          {here.length > 1 && ` and ${here.length - 1} more`}.
        </p>
      )}
      {elsewhere.length > 0 && (
        <p className="text-[14px] text-ink-2">
          Elsewhere: {elsewhere.map((p) => `${p.printed} ${percent(p.share)}`).join(', ')}.
        </p>
      )}
    </>
  );
}

const percent = (share: number | undefined) => `${Math.round(100 * (share ?? 0))} %`;
