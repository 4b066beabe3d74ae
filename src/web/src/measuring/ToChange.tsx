import type { RefObject } from 'react';
import { Key } from '../ui/Key';

/** What has to be changed by hand before the next probe: the black one, the meter, the machine. */
export function ToChange({ changes, done }: { changes: string[]; done: () => void }) {
  return (
    <div role="alert" className="settle mb-2 border-4 border-rust bg-rust-wash px-4 py-2">
      {changes.map((change) => (
        <p key={change} className="text-[22px] leading-tight font-bold">
          {change}
        </p>
      ))}
      <button type="button" className="quiet mt-2 border-ink max-[899px]:hidden" onClick={done}>
        Done <Key>Enter</Key>
      </button>
    </div>
  );
}

interface WhenDoneProps {
  field: RefObject<HTMLInputElement | null>;
  press: (key: string) => boolean;
}

/** Takes the keys while something has to be changed first: Enter says it is done, a digit does and begins the number. */
export function WhenDone({ field, press }: WhenDoneProps) {
  return (
    <input
      ref={field}
      autoFocus
      readOnly
      inputMode="none"
      aria-label="Enter when done"
      className="absolute size-px opacity-0"
      value=""
      onKeyDown={(event) => {
        if (!event.ctrlKey && !event.altKey && !event.metaKey && press(event.key)) {
          event.preventDefault();
        }
      }}
    />
  );
}
