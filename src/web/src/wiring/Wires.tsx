import { useRef, useState } from 'react';
import type { Link as WireLink, PinAddress } from '../api/generated';
import { newId } from '../api/newId';
import { addressText } from '../ui/address';
import { Key } from '../ui/Key';
import { PinBox } from '../ui/PinBox';
import { Tabs } from '../ui/Tabs';
import { TickBox } from '../ui/Tick';
import { useWide } from '../ui/useWide';
import { BeepOut } from './BeepOut';
import { CableForm } from './CableForm';
import { PickEnds } from './PickEnds';
import { WireGrid } from './WireGrid';
import { WireList } from './WireList';
import { isSameWire, type PlacedPin } from './wires';

interface WiresProps {
  machineId: string;
  modelId: string;
  positions: { id: string; prefix: string; name: string }[];
  pins: PlacedPin[];
  wires: WireLink[];
  settle: (wires: WireLink[]) => void;
}

const ways = [
  ['pins', 'Two pins'],
  ['pick', 'On a picture'],
  ['cable', 'A cable'],
  ['beep', 'Beep out'],
] as const;

/** The wires, each from here to there; made by two ends, by a whole cable, or by what beeps. */
export function Wires({ machineId, modelId, positions, pins, wires, settle }: WiresProps) {
  const [way, setWay] = useState<(typeof ways)[number][0]>('pins');
  const wide = useWide();
  const printed = new Map(pins.map((p) => [addressText(p.address), p.printed]));
  const name = (at: PinAddress) => printed.get(addressText(at)) ?? 'a pin that is gone';
  const join = (more: { from: PinAddress; to: PinAddress; directed: boolean }[]) => {
    const next = [...wires];
    for (const wire of more) {
      if (!next.some((w) => isSameWire(w, wire.from, wire.to))) {
        next.push({ id: newId(), number: '', ...wire });
      }
    }
    if (next.length > wires.length) {
      settle(next);
    }
  };
  return (
    <section aria-label="Wires" className="mt-4">
      <div className="flex flex-wrap items-end gap-5 border-b border-rule-2">
        <h3 className="grow pb-1">
          Wires <span className="font-mono font-normal">{wires.length}</span>
        </h3>
        <Tabs name="Join" value={way} onChange={setWay} tabs={ways} />
      </div>
      <div className="border-l-4 border-rust bg-rust-wash px-3 py-2">
        {way === 'pins' && <TwoPins pins={pins} wires={wires} join={join} />}
        {way === 'pick' && (
          <PickEnds machineId={machineId} positions={positions} pins={pins} wires={wires} join={join} />
        )}
        {way === 'cable' && <CableForm modelId={modelId} pins={pins} join={join} />}
        {way === 'beep' && <BeepOut pins={pins} wires={wires} join={join} settle={settle} />}
      </div>
      {wide ? (
        <WireGrid id={modelId} pins={pins} wires={wires} name={name} settle={settle} />
      ) : (
        <WireList wires={wires} name={name} settle={settle} />
      )}
    </section>
  );
}

interface TwoPinsProps {
  pins: PlacedPin[];
  wires: WireLink[];
  join: (wires: { from: PinAddress; to: PinAddress; directed: boolean }[]) => void;
}

/** One wire, by typing its two ends. */
function TwoPins({ pins, wires, join }: TwoPinsProps) {
  const [from, setFrom] = useState<PlacedPin | null>(null);
  const [to, setTo] = useState<PlacedPin | null>(null);
  const [feeds, setFeeds] = useState(true);
  const first = useRef<HTMLInputElement>(null);
  const there = from && to && wires.some((w) => isSameWire(w, from.address, to.address));
  return (
    <form
      aria-label="Join two pins"
      className="grid items-end gap-3 min-[700px]:grid-cols-[1fr_1fr_auto_auto]"
      onSubmit={(event) => {
        event.preventDefault();
        if (from && to && !there && from !== to) {
          join([{ from: from.address, to: to.address, directed: feeds }]);
          setFrom(null);
          setTo(null);
          first.current?.focus();
        }
      }}
    >
      <PinBox label="From here" field={first} pins={pins} value={from} onChange={setFrom} />
      <PinBox label="to there" pins={pins} value={to} onChange={setTo} />
      <label className="flex min-h-[38px] items-center gap-2">
        <TickBox on={feeds} set={setFeeds} /> feeds it
      </label>
      <button type="submit" className="action" disabled={!from || !to || Boolean(there) || from === to}>
        Join <Key>Enter</Key>
      </button>
      {there && <p className="text-[14px] text-out">These two are joined already.</p>}
    </form>
  );
}
