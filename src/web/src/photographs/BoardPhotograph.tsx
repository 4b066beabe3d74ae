import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { listPhotographs, type BoardMap as Map } from '../api/generated';
import { ask } from '../api/ledger';
import { type OnBoard } from '../boards/BoardMap';
import type { Facing } from '../boards/facing';
import type { PlaceOnBoard } from '../boards/place';
import { useOpenVisit } from '../boards/useOpenVisit';
import { usePerson } from '../people/person';
import { Choose } from '../ui/Choose';
import { Problem } from '../ui/Problem';
import { dayOf } from '../ui/time';
import { Laid, useOverlay } from './Overlaid';
import { TakeButton } from './TakeButton';
import { take } from './take';

export interface BoardPhotographProps {
  board: Map;
  facing: Facing;
  on: OnBoard & { onTapPlace: (x: number, y: number) => void };
  place: PlaceOnBoard;
}

/** The board on its photograph: tapped to know what it is, laid by known points, or drawn by tapping. */
export function BoardPhotograph({ board, facing, on, place }: BoardPhotographProps) {
  const person = usePerson();
  const visitId = useOpenVisit(board.machineId);
  const photographs = useQuery({
    queryKey: ['photographs', board.machineId],
    queryFn: () => ask(listPhotographs({ path: { machineId: board.machineId } })),
  });
  const here = (photographs.data ?? []).filter(
    (p) => p.positionId === board.positionId || (p.positionId === null && p.kind === 'board'),
  );
  const [chosen, setChosen] = useState<string | null>(null);
  const id = chosen ?? board.photographId ?? here[0]?.id;
  // A picture just taken is known to the ledger once it has left the device; before the list is here nobody can say.
  const waits = chosen !== null && photographs.data?.some((p) => p.id === chosen) !== true;
  const overlay = useOverlay(waits ? undefined : id, facing);
  return (
    <div className="py-2">
      <div className="flex flex-wrap items-end gap-3 pb-2 text-[14px]">
        {here.length > 0 && (
          <label className="min-w-0 max-w-full">
            <span className="sr-only">Photograph</span>
            <Choose
              className="w-auto max-w-full"
              value={id ?? ''}
              options={here.map((p) => ({
                value: p.id,
                words: `${dayOf(p.takenAt)} ${p.caption}${p.positionId === null ? ', board not said' : ''}`,
              }))}
              onChange={setChosen}
            />
          </label>
        )}
        <TakeButton
          label="Photograph of the board"
          onTake={(files) => {
            const [first] = take(files, {
              machineId: board.machineId,
              tag: board.positionName,
              kind: 'board',
              personId: person?.id ?? '',
              visitId: visitId ?? undefined,
              positionId: board.positionId,
            });
            setChosen(first ?? null);
          }}
        >
          Take a photograph
        </TakeButton>
      </div>
      <Problem error={photographs.error ?? overlay.error} retry={() => void overlay.refetch()} />
      {!id && !photographs.isPending && (
        <p className="py-3">No photograph of this board yet. Take one, then mark four points that you know.</p>
      )}
      {waits && <p className="py-3 text-ink-2">The photograph is on its way from this device…</p>}
      {id && !waits && overlay.isPending && <p className="py-3 text-ink-2">Laying the layout on the photograph…</p>}
      {!waits && overlay.data && <Laid overlay={overlay.data} board={board} facing={facing} on={on} place={place} />}
    </div>
  );
}
