import { useState } from 'react';
import type { Link as WireLink, PinAddress } from '../api/generated';
import { addressText } from '../ui/address';
import { PinBox } from '../ui/PinBox';
import { isSameWire, type PlacedPin } from './wires';

interface BeepOutProps {
  pins: PlacedPin[];
  wires: WireLink[];
  join: (wires: { from: PinAddress; to: PinAddress; directed: boolean }[]) => void;
  settle: (wires: WireLink[]) => void;
}

/** One end is held, and each place that beeps is tapped: the wires are made. Dead, plugs pulled where boards join them. */
export function BeepOut({ pins, wires, join, settle }: BeepOutProps) {
  const [held, setHeld] = useState<PlacedPin | null>(null);
  const groups = Map.groupBy(pins, (p) => p.printed.slice(0, p.printed.lastIndexOf('·')));
  const own = held?.printed.slice(0, held.printed.lastIndexOf('·'));
  return (
    <div>
      <div className="grid items-end gap-3 min-[700px]:grid-cols-[1fr_2fr]">
        <PinBox label="Hold one probe here" pins={pins} value={held} onChange={setHeld} />
        <p className="text-[14px] text-ink-2">
          Dead and proved so; boards unplugged, or their paths beep too. Then tap every place that beeps; tap it again
          to take it back.
        </p>
      </div>
      {held && (
        <div className="mt-2 max-h-[40dvh] overflow-y-auto" role="group" aria-label={`Beeps against ${held.printed}`}>
          {[...groups]
            .filter(([connector]) => connector !== own)
            .map(([connector, here]) => (
              <div key={connector} className="flex flex-wrap items-center gap-1 border-t border-rule-2 py-1">
                <span className="w-[86px] font-mono text-[14px]">{connector}</span>
                {here.map((pin) => {
                  const wire = wires.find((w) => isSameWire(w, held.address, pin.address));
                  return (
                    <button
                      key={addressText(pin.address)}
                      type="button"
                      aria-label={pin.printed}
                      aria-pressed={wire !== undefined}
                      className={`min-h-[44px] min-w-[44px] border px-1 font-mono ${wire ? 'border-rust bg-sheet font-bold text-rust' : 'border-rule-2 bg-sheet'}`}
                      onClick={() =>
                        wire
                          ? settle(wires.filter((w) => w.id !== wire.id))
                          : join([{ from: held.address, to: pin.address, directed: false }])
                      }
                    >
                      {pin.printed.slice(pin.printed.lastIndexOf('·') + 1)}
                    </button>
                  );
                })}
              </div>
            ))}
        </div>
      )}
    </div>
  );
}
