import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import {
  editNamedPlace,
  getMachine,
  getModel,
  listNamedPlaces,
  type NamedPlaceView,
  type PinAddress,
} from '../api/generated';
import { ask } from '../api/ledger';
import { useAct } from '../outbox/useAct';
import { PinBox } from '../ui/PinBox';
import { Problem } from '../ui/Problem';
import { AddPins } from './AddPins';

/** Names that were called and that nobody has entered: what was read stands under them until somebody says where they are. */
export function NamesLater({ machineId }: { machineId: string }) {
  const queries = useQueryClient();
  const names = useQuery({
    queryKey: ['names', machineId],
    queryFn: () => ask(listNamedPlaces({ path: { id: machineId } })),
  });
  const open = (names.data ?? []).filter((n) => n.is === '');
  const unseen = open.filter((n) => n.maybe.length === 0).map((n) => n.name);
  if (open.length === 0) {
    return null;
  }
  return (
    <section aria-label="Called, and not placed yet" className="mt-4">
      <h2 className="border-b border-rule-2 pb-1 text-[15px]">
        Called, and not placed yet <span className="font-mono font-normal">{open.length}</span>
      </h2>
      <ul className="text-[14px]">
        {open.map((named) => (
          <Named key={`${named.id} ${named.version}`} named={named} machineId={machineId} />
        ))}
      </ul>
      {unseen.length > 0 && (
        <AddPins
          machineId={machineId}
          names={unseen}
          added={() => void queries.invalidateQueries({ queryKey: ['names', machineId] })}
        />
      )}
    </section>
  );
}

function Named({ named, machineId }: { named: NamedPlaceView; machineId: string }) {
  const queries = useQueryClient();
  const [isChoosing, setIsChoosing] = useState(false);
  const [chosen, setChosen] = useState<{ address: PinAddress; printed: string } | null>(null);
  const place = useAct({
    words: `where ${named.name} is`,
    machineId,
    send: (client) =>
      ask(
        editNamedPlace({
          client,
          path: { id: named.id },
          body: { version: named.version, name: named.name, is: chosen?.address ?? null },
        }),
      ),
    taken: async (now) => {
      queries.setQueryData(['names', machineId], now);
      await queries.invalidateQueries({ queryKey: ['called'] });
    },
  });
  const last = named.readings[0];
  return (
    <li className="border-b border-rule py-1">
      <span className="flex flex-wrap items-baseline gap-x-3">
        <b className="font-mono">{named.name}</b>
        <span className="grow text-ink-2">
          {last ? ` last read ${last.value}, ${last.state}` : ' not read yet'}
          {named.readings.length > 1 && `, ${named.readings.length} readings`}
        </span>
        <button
          type="button"
          className="link min-h-[34px] max-[899px]:min-h-[44px]"
          onClick={() => setIsChoosing(!isChoosing)}
        >
          {isChoosing ? 'Later' : `Where is ${named.name}?`}
        </button>
      </span>
      {isChoosing && (
        <form
          className="flex flex-wrap items-end gap-3 pb-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (chosen) {
              place.act();
            }
          }}
        >
          <div className="min-w-[180px] grow">
            <Pins named={named} machineId={machineId} chosen={chosen} choose={setChosen} />
          </div>
          <button type="submit" className="quiet min-h-[44px]" disabled={!chosen || place.isPending}>
            It is {chosen?.printed ?? 'this pin'}
          </button>
        </form>
      )}
      <Problem error={place.error} />
    </li>
  );
}

interface PinsProps {
  named: NamedPlaceView;
  machineId: string;
  chosen: { address: PinAddress; printed: string } | null;
  choose: (pin: { address: PinAddress; printed: string } | null) => void;
}

/** All pins of the machine; those that bear the name stand first. */
function Pins({ named, machineId, chosen, choose }: PinsProps) {
  const machine = useQuery({
    queryKey: ['machine', machineId],
    queryFn: () => ask(getMachine({ path: { id: machineId } })),
  });
  const modelId = machine.data?.modelId;
  const model = useQuery({
    queryKey: ['model', modelId],
    queryFn: () => ask(getModel({ path: { id: modelId ?? '' } })),
    enabled: modelId !== undefined,
  });
  const likely = named.maybe.map((p) => ({ ...p, signal: `called ${named.name}` }));
  const others = (model.data?.pins ?? []).filter((p) => likely.every((l) => l.printed !== p.printed));
  return (
    <PinBox
      autoFocus
      label={`${named.name} is`}
      pins={[...likely, ...others]}
      value={chosen && { ...chosen, signal: '' }}
      onChange={choose}
    />
  );
}
