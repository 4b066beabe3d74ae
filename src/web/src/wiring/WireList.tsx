import type { Link as WireLink, PinAddress } from '../api/generated';

interface WireListProps {
  wires: WireLink[];
  name: (at: PinAddress) => string;
  settle: (wires: WireLink[]) => void;
}

/** The wires one below the other, for a thumb. */
export function WireList({ wires, name, settle }: WireListProps) {
  return (
    <ul aria-label="Wires" className="text-[15px]">
      {wires.map((wire) => {
        const words = `${name(wire.from)} to ${name(wire.to)}`;
        const put = (next: Partial<WireLink>) =>
          settle(wires.map((w) => (w.id === wire.id ? { ...wire, ...next } : w)));
        return (
          <li key={wire.id} className="border-b border-rule py-1">
            <span className="font-mono">
              {name(wire.from)} {wire.directed ? '›' : '–'} {name(wire.to)}
              {wire.number && <span className="text-ink-2"> no. {wire.number}</span>}
            </span>
            <span className="flex gap-5">
              <button
                type="button"
                className="link min-h-[44px]"
                aria-label={`${words}: ${wire.directed ? 'feeds it' : 'no direction'}; change`}
                onClick={() => put({ directed: !wire.directed })}
              >
                {wire.directed ? 'feeds it' : 'no direction'}
              </button>
              <button
                type="button"
                className="link min-h-[44px]"
                aria-label={`Turn round: ${words}`}
                onClick={() => put({ from: wire.to, to: wire.from })}
              >
                Turn round
              </button>
              <button
                type="button"
                className="link min-h-[44px]"
                aria-label={`Strike out: ${words}`}
                onClick={() => settle(wires.filter((w) => w.id !== wire.id))}
              >
                Strike out
              </button>
            </span>
          </li>
        );
      })}
    </ul>
  );
}
