import { type ReactNode, useState } from 'react';
import type { PinOnMap, RowView } from '../api/generated';
import { BoardMap } from '../boards/BoardMap';
import { type useFacing } from '../boards/facing';
import { FacingKeys } from '../boards/FacingKeys';
import { NearNotes } from '../boards/NearNotes';
import type { useBoardMap } from '../boards/useBoardMap';
import { useOverlay } from '../photographs/Overlaid';
import { PhotoMap } from '../photographs/PhotoMap';
import type { MarkKind } from '../ui/Mark';

interface MeasureLeafProps {
  row: RowView | undefined;
  map: ReturnType<typeof useBoardMap>;
  facing: ReturnType<typeof useFacing>;
  marks: ReadonlyMap<string, MarkKind>;
  onPick: (pin: PinOnMap) => void;
  children: ReactNode;
}

/** The board that is probed, drawn or photographed, as one faces it; it fills the leaf. */
export function MeasureLeaf({ row, map, facing, marks, onPick, children }: MeasureLeafProps) {
  const [wholeBoard, setWholeBoard] = useState(false);
  const [onPhotograph, setOnPhotograph] = useState(false);
  const overlay = useOverlay(onPhotograph ? (map.data?.photographId ?? undefined) : undefined, facing.facing);
  const position = row?.red?.position;
  const on = {
    red: row?.red?.pin,
    black: row?.black?.position === position ? row?.black?.pin : undefined,
    marks,
    onPick,
  };
  if (!map.data || !position) {
    return (
      <>
        <p className="text-ink-2">
          {position
            ? map.isError
              ? 'The map of this board is out of reach.'
              : 'Laying out the board…'
            : row?.red
              ? `${row.red.element} is off the boards: ${row.red.holderWords}.`
              : 'Nothing to probe for this check.'}
        </p>
        {children}
      </>
    );
  }
  const laid = onPhotograph && map.data.photographId && overlay.data?.isLaid ? overlay.data : undefined;
  return (
    <>
      <h2>
        {map.data.positionName}, {map.data.facingWords}
      </h2>
      <div className="my-2 flex flex-wrap gap-2 text-[14px] [&>[role=group]]:contents">
        <FacingKeys {...facing} />
        <button
          type="button"
          className="quiet px-2"
          aria-pressed={wholeBoard}
          onClick={() => setWholeBoard(!wholeBoard)}
        >
          {wholeBoard ? 'Closer' : 'Whole board'}
        </button>
        {map.data.photographId && (
          <button
            type="button"
            className="quiet px-2"
            aria-pressed={onPhotograph}
            onClick={() => setOnPhotograph(!onPhotograph)}
          >
            {onPhotograph ? 'Map' : 'Photograph'}
          </button>
        )}
      </div>
      {laid ? (
        <PhotoMap overlay={laid} {...on} className="max-h-[520px] w-full" />
      ) : wholeBoard ? (
        <BoardMap map={map.data} {...on} className="max-h-[520px] w-full" />
      ) : (
        <BoardMap
          map={map.data}
          {...on}
          zoomed
          className="w-full max-[899px]:max-h-[520px] min-[900px]:min-h-[240px] min-[900px]:grow min-[900px]:basis-0"
        />
      )}
      <NearNotes notes={map.data.notes} pinId={row.red?.pin} />
      <p className="mt-1 text-[14px] text-ink-2">The square pin is pin 1. Choose a pin to go to its check.</p>
      {children}
    </>
  );
}
