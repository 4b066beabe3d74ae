import type { WireProposal } from '../api/generated';
import { TickBox } from '../ui/Tick';

interface SheetWiresProps {
  wires: WireProposal[];
  say: (wires: Record<string, boolean>) => void;
}

/** The wires that the sheet tells of, each with what it goes by; taken or refused one by one or all at once. */
export function SheetWires({ wires, say }: SheetWiresProps) {
  if (wires.length === 0) {
    return (
      <p className="py-2 text-[14px] text-ink-2">
        The sheet tells of none: it names no other end, no wire number, no plug that goes into another.
      </p>
    );
  }
  const all = (on: boolean) => say(Object.fromEntries(wires.map((w) => [w.id, on])));
  return (
    <>
      <p className="flex gap-4 border-b border-rule text-[14px]">
        <span className="grow py-2 text-ink-2">
          {wires.filter((w) => w.isTaken).length} of {wires.length} taken
        </span>
        <button type="button" className="link min-h-[36px] max-[899px]:min-h-[44px]" onClick={() => all(true)}>
          Take all
        </button>
        <button type="button" className="link min-h-[36px] max-[899px]:min-h-[44px]" onClick={() => all(false)}>
          Refuse all
        </button>
      </p>
      <ul aria-label="Wires of the sheet">
        {wires.map((wire) => (
          <li key={wire.id} className="border-b border-rule py-1.5 text-[14px]">
            <label className="flex cursor-pointer items-start gap-2">
              <TickBox on={wire.isTaken} set={(on) => say({ [wire.id]: on })} />
              <span className="min-w-0">
                <b className="font-mono">
                  {wire.fromPrinted} {wire.directed ? '›' : '–'} {wire.toPrinted}
                </b>
                {wire.number && <span className="ml-2 font-mono text-ink-2">no. {wire.number}</span>}
                <span className="block text-ink-2 first-letter:uppercase">{wire.why}.</span>
              </span>
            </label>
          </li>
        ))}
      </ul>
    </>
  );
}
