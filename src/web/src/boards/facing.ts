import { useQuery, useQueryClient } from '@tanstack/react-query';
import { faceBoard, getFacings, type BoardSide, type FacedBoards } from '../api/generated';
import { ask } from '../api/ledger';

/** How the technician faces the board: quarter turns, and which side is seen. */
export interface Facing {
  turns: number;
  side: BoardSide;
}

const sides: BoardSide[] = ['component', 'solder', 'wire', 'mating'];

export const sideWords: Record<BoardSide, string> = {
  component: 'Component side',
  solder: 'Solder side',
  wire: 'Wire side, plugged in',
  mating: 'Mating face, pulled plug',
};

// One after the other, so that the last turn is the one remembered.
let last: Promise<unknown> = Promise.resolve();

/** Without a visit the device remembers, since the technician does not turn round between pages. */
function onDevice(): Facing {
  const [turns, side] = (localStorage.getItem('facing') ?? '').split(',');
  return { turns: Number(turns) % 4 || 0, side: sides.find((s) => s === side) ?? 'component' };
}

/**
 * How a board is faced: as its visit remembers it, each position for itself. Map, photograph and words all follow it.
 * Undefined until the ledger has said how it was left.
 */
export function useFacing(machine: string, positionId: string | undefined) {
  const queries = useQueryClient();
  const key = ['facings', machine];
  const faced = useQuery({ queryKey: key, queryFn: () => ask(getFacings({ path: { machineId: machine } })) });
  const known = faced.data?.boards.find((b) => b.positionId === positionId);
  const facing: Facing | undefined = known
    ? { turns: known.turns, side: known.side }
    : faced.isPending
      ? undefined
      : faced.data?.visitId
        ? { turns: 0, side: 'component' }
        : onDevice();
  const face = (next: Facing) => {
    if (!positionId) {
      return;
    }
    localStorage.setItem('facing', `${next.turns},${next.side}`);
    queries.setQueryData<FacedBoards>(key, (was) => ({
      visitId: was?.visitId ?? null,
      boards: [...(was?.boards ?? []).filter((b) => b.positionId !== positionId), { positionId, ...next }],
    }));
    // Turning the board must not wait for a signal; the device remembers too.
    last = last
      .then(() => ask(faceBoard({ path: { machineId: machine, positionId }, body: next })))
      .catch(() => undefined);
  };
  const at: Facing = facing ?? onDevice();
  return {
    facing,
    face,
    turn: () => face({ ...at, turns: (at.turns + 1) % 4 }),
    otherSide: () => face({ ...at, side: sides[(sides.indexOf(at.side) + 1) % sides.length] ?? 'component' }),
  };
}
