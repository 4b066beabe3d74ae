import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { getPhotograph, type Link as WireLink, listPhotographs, type PinAddress } from '../api/generated';
import { ask } from '../api/ledger';
import { BoardMap } from '../boards/BoardMap';
import { useFacing } from '../boards/facing';
import { FacingKeys } from '../boards/FacingKeys';
import { useBoardMap } from '../boards/useBoardMap';
import { Picture } from '../photographs/PhotographPicture';
import { kindWords } from '../photographs/take';
import { addressText } from '../ui/address';
import { Choose } from '../ui/Choose';
import { TickBox } from '../ui/Tick';
import { isSameWire, type PlacedPin } from './wires';

interface PickEndsProps {
  machineId: string;
  positions: { id: string; prefix: string; name: string }[];
  pins: PlacedPin[];
  wires: WireLink[];
  join: (wires: { from: PinAddress; to: PinAddress; directed: boolean }[]) => void;
}

/** A wire by its two ends, each pressed where it is: on the map of a board or on a photograph, the second on another if need be. */
export function PickEnds({ machineId, positions, pins, wires, join }: PickEndsProps) {
  const [where, setWhere] = useState(positions[0] ? `board ${positions[0].id}` : '');
  const [from, setFrom] = useState<PlacedPin | null>(null);
  const [feeds, setFeeds] = useState(true);
  const [says, setSays] = useState('');
  const photographs = useQuery({
    queryKey: ['photographs', machineId],
    queryFn: () => ask(listPhotographs({ path: { machineId } })),
  });
  const pick = (address: PinAddress | null) => {
    const pin = address && pins.find((p) => addressText(p.address) === addressText(address));
    if (!pin) {
      setSays('That place is no pin yet. Say at the photograph which pin it is.');
      return;
    }
    if (!from) {
      setFrom(pin);
      setSays('');
    } else if (pin === from) {
      setFrom(null);
      setSays('');
    } else if (wires.some((w) => isSameWire(w, from.address, pin.address))) {
      setSays(`${from.printed} and ${pin.printed} are joined already.`);
      setFrom(null);
    } else {
      join([{ from: from.address, to: pin.address, directed: feeds }]);
      setSays(`${from.printed} ${feeds ? 'feeds' : 'is joined to'} ${pin.printed}.`);
      setFrom(null);
    }
  };
  const options = [
    ...positions.map((p) => ({ value: `board ${p.id}`, words: `${p.prefix} ${p.name}` })),
    ...(photographs.data ?? []).map((p) => ({
      value: `photograph ${p.id}`,
      words: `photograph, ${p.caption || kindWords[p.kind]}`,
    })),
  ];
  if (options.length === 0) {
    return <p>Nothing to press yet: no board and no photograph of this machine.</p>;
  }
  const [kind, id = ''] = where.split(' ');
  return (
    <div>
      <div className="flex flex-wrap items-end gap-x-5 gap-y-2">
        <label className="min-w-[220px]">
          On
          <Choose className="mt-0.5" value={where} options={options} onChange={setWhere} />
        </label>
        <label className="flex min-h-[38px] items-center gap-2">
          <TickBox on={feeds} set={setFeeds} /> the first feeds the second
        </label>
        <p className="grow text-[17px]" role="status">
          {from ? (
            <>
              From <b className="font-mono">{from.printed}</b>: now press where it goes.{' '}
            </>
          ) : (
            'Press where the wire begins. '
          )}
          {says}
        </p>
      </div>
      <div className="mt-2 bg-sheet p-2">
        {kind === 'board' && <OnMap key={id} machineId={machineId} positionId={id} from={from} pick={pick} />}
        {kind === 'photograph' && <OnPhotograph key={id} id={id} from={from} pick={pick} />}
      </div>
    </div>
  );
}

interface OnProps {
  from: PlacedPin | null;
  pick: (address: PinAddress | null) => void;
}

function OnMap({ machineId, positionId, from, pick }: OnProps & { machineId: string; positionId: string }) {
  const facing = useFacing(machineId, positionId);
  const map = useBoardMap(machineId, positionId, facing.facing);
  if (!map.data) {
    return (
      <p className="py-4 text-ink-2">
        {map.isError ? 'The map of this board is out of reach.' : 'Laying out the board…'}
      </p>
    );
  }
  return (
    <>
      <div className="mb-2 flex flex-wrap gap-2 text-[14px] [&>[role=group]]:contents">
        <FacingKeys {...facing} />
      </div>
      <BoardMap
        map={map.data}
        red={from?.address.position === positionId ? from.address.pin : undefined}
        onPick={(pin) => pick({ position: positionId, pin: pin.id })}
        className="max-h-[46dvh] w-full"
      />
    </>
  );
}

function OnPhotograph({ id, from, pick }: OnProps & { id: string }) {
  const page = useQuery({ queryKey: ['photograph', id], queryFn: () => ask(getPhotograph({ path: { id } })) });
  if (!page.data) {
    return (
      <p className="py-4 text-ink-2">{page.isError ? 'The photograph is out of reach.' : 'Opening the photograph…'}</p>
    );
  }
  const { places } = page.data;
  const at = places.find((p) => from && p.address && addressText(p.address) === addressText(from.address));
  return (
    <Picture
      page={page.data}
      places={places.map((known) => ({ ...known, name: known.printed ?? known.name, known }))}
      chosen={at?.id ?? null}
      choose={(placeId) => pick(places.find((p) => p.id === placeId)?.address ?? null)}
      tap={() => pick(null)}
    />
  );
}
