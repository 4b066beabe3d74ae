import { useRef, useState } from 'react';
import type { Link as WireLink, PinAddress } from '../api/generated';
import { newId } from '../api/newId';
import { addressText } from '../ui/address';
import { Key } from '../ui/Key';
import { type NamedPin, PinBox } from '../ui/PinBox';
import { TickBox } from '../ui/Tick';

interface PlacedPin extends NamedPin {
  address: PinAddress;
}

interface WiresProps {
  pins: PlacedPin[];
  wires: WireLink[];
  settle: (wires: WireLink[]) => void;
}

/** The wires, each from here to there; a new one is made by typing its two ends. */
export function Wires({ pins, wires, settle }: WiresProps) {
  const [from, setFrom] = useState<PlacedPin | null>(null);
  const [to, setTo] = useState<PlacedPin | null>(null);
  const [feeds, setFeeds] = useState(true);
  const first = useRef<HTMLInputElement>(null);
  const printed = new Map(pins.map((p) => [addressText(p.address), p.printed]));
  const name = (at: PinAddress) => printed.get(addressText(at)) ?? 'a pin that is gone';
  const there = from && to && wires.some((w) => same(w, from.address, to.address));
  const join = () => {
    if (from && to && !there && from !== to) {
      settle([...wires, { id: newId(), from: from.address, to: to.address, directed: feeds, number: '' }]);
      setFrom(null);
      setTo(null);
      first.current?.focus();
    }
  };
  return (
    <section aria-label="Wires" className="mt-4">
      <h3 className="border-b border-rule-2 pb-1">
        Wires <span className="font-mono font-normal">{wires.length}</span>
      </h3>
      <form
        aria-label="Join two pins"
        className="grid items-end gap-3 border-l-4 border-rust bg-rust-wash px-3 py-2 min-[700px]:grid-cols-[1fr_1fr_auto_auto]"
        onSubmit={(event) => {
          event.preventDefault();
          join();
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
      {wires.length === 0 ? (
        <p className="py-2 text-[14px] text-ink-2">None yet. Type a pin as it is printed, such as ps+ or z1j2 1.</p>
      ) : (
        <table className="w-full border-collapse text-[14px]">
          <caption className="sr-only">Wires</caption>
          <thead>
            <tr className="text-left text-ink-2 [&>th]:py-1 [&>th]:pr-3 [&>th]:font-medium">
              <th scope="col">From here</th>
              <th scope="col">to there</th>
              <th scope="col">No.</th>
              <th scope="col">Power</th>
              <th scope="col">
                <span className="sr-only">Acts</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {wires.map((wire) => {
              const words = `${name(wire.from)} to ${name(wire.to)}`;
              const put = (next: Partial<WireLink>) =>
                settle(wires.map((w) => (w.id === wire.id ? { ...wire, ...next } : w)));
              return (
                <tr key={wire.id} className="border-t border-rule [&>td]:pr-3">
                  <td className="font-mono">{name(wire.from)}</td>
                  <td className="font-mono">{name(wire.to)}</td>
                  <td>
                    <input
                      key={wire.number}
                      className="field w-[64px] px-1 py-0.5 font-mono text-[14px]"
                      maxLength={12}
                      aria-label={`Number on the sleeve: ${words}`}
                      defaultValue={wire.number}
                      onBlur={(event) => {
                        const number = event.target.value.trim();
                        if (number !== wire.number) {
                          put({ number });
                        }
                      }}
                    />
                  </td>
                  <td>
                    <button
                      type="button"
                      className="link min-h-[32px] max-[899px]:min-h-[44px]"
                      aria-label={`${words}: ${wire.directed ? 'feeds it' : 'no direction'}; change`}
                      onClick={() => put({ directed: !wire.directed })}
                    >
                      {wire.directed ? 'feeds it' : 'no direction'}
                    </button>
                  </td>
                  <td className="text-right whitespace-nowrap">
                    <button
                      type="button"
                      className="link mr-4 min-h-[32px] max-[899px]:min-h-[44px]"
                      aria-label={`Turn round: ${words}`}
                      onClick={() => put({ from: wire.to, to: wire.from })}
                    >
                      Turn round
                    </button>
                    <button
                      type="button"
                      className="link min-h-[32px] max-[899px]:min-h-[44px]"
                      aria-label={`Strike out: ${words}`}
                      onClick={() => settle(wires.filter((w) => w.id !== wire.id))}
                    >
                      Strike out
                    </button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </section>
  );
}

const same = (wire: WireLink, a: PinAddress, b: PinAddress): boolean => {
  const ends = [addressText(wire.from), addressText(wire.to)];
  return ends.includes(addressText(a)) && ends.includes(addressText(b));
};
