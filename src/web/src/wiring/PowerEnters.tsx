import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { type ModelPage, setPowerIn } from '../api/generated';
import { ask } from '../api/ledger';
import { PinBox } from '../ui/PinBox';
import { Problem } from '../ui/Problem';
import type { PlacedPin } from './wires';

interface PowerEntersProps {
  model: ModelPage;
  pins: PlacedPin[];
  /** Of a pin off the boards it is said in the sheet that is being written. */
  say: (pin: PlacedPin, enters: boolean) => void;
  /** The ledger was told of a board; the page is asked for anew. */
  told: () => void;
}

/** Where power enters, at a board or off it; without any there is no path. */
export function PowerEnters({ model, pins, say, told }: PowerEntersProps) {
  const [pin, setPin] = useState<PlacedPin | null>(null);
  const set = useMutation({
    mutationFn: ({ at, enters }: { at: PlacedPin; enters: boolean }) =>
      ask(setPowerIn({ path: { id: model.id }, body: { address: at.address, enters } })),
    onSuccess: () => {
      setPin(null);
      told();
    },
  });
  const { sources } = model.wiringReport;
  const isOnBoard = pin?.address.position !== undefined;
  const put = (at: PlacedPin, enters: boolean) => {
    if (at.address.position === undefined) {
      say(at, enters);
      setPin(null);
    } else {
      set.mutate({ at, enters });
    }
  };
  return (
    <>
      {sources.length === 0 && (
        <p className="py-1 text-[14px] text-ink-2">
          Nobody has said yet where power enters; without it there is no path.
        </p>
      )}
      <ul className="text-[14px]" aria-label="Power enters at">
        {sources.map((printed) => {
          const at = pins.find((p) => p.printed === printed);
          return (
            <li key={printed} className="flex items-center justify-between border-b border-rule">
              <span>
                Power enters at <b className="font-mono">{printed}</b>
              </span>
              {at && (
                <button
                  type="button"
                  className="link min-h-[32px] max-[899px]:min-h-[44px]"
                  aria-label={`Power does not enter at ${printed}`}
                  disabled={set.isPending}
                  onClick={() => put(at, false)}
                >
                  Not there
                </button>
              )}
            </li>
          );
        })}
      </ul>
      <form
        aria-label="Where power enters"
        className="mt-2 flex items-end gap-2 text-[14px]"
        onSubmit={(event) => {
          event.preventDefault();
          if (pin) {
            put(pin, true);
          }
        }}
      >
        <div className="min-w-0 grow">
          <PinBox
            label={sources.length === 0 ? 'Power enters at' : 'and at'}
            pins={pins}
            value={pin}
            onChange={setPin}
          />
        </div>
        <button type="submit" className="quiet min-h-[38px]" disabled={!pin || set.isPending}>
          Add
        </button>
      </form>
      {isOnBoard && (
        <p className="text-[14px] text-ink-2">It is said of the board, so of every machine that has this board.</p>
      )}
      <Problem error={set.error} />
    </>
  );
}
