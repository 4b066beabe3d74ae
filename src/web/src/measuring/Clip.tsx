import { useEffect, useRef, useState } from 'react';
import type { ProbeView } from '../api/generated';
import { Key } from '../ui/Key';
import { PinBox } from '../ui/PinBox';

interface ClipProps {
  /** Where it may be clipped for the check that is due. */
  places: ProbeView[];
  /** Where it is; empty for where the sheet says. */
  clip: string;
  isAsked: boolean;
  ask: (asked: boolean) => void;
  set: (printed: string) => void;
}

/** "My black clip is here": said once, it holds for every check against the same return. */
export function Clip({ places, clip, isAsked, ask, set }: ClipProps) {
  const [chosen, setChosen] = useState<ProbeView | null>(null);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (isAsked) {
      field.current?.focus();
    }
  }, [isAsked]);
  if (!isAsked) {
    return (
      <p className="flex flex-wrap items-center gap-x-4 text-[14px]">
        <button
          type="button"
          className="link inline-flex min-h-[28px] items-center gap-2 max-[899px]:min-h-[44px]"
          onClick={() => ask(true)}
        >
          {clip ? `Clip stays on ${clip}` : 'My black clip is elsewhere'} <Key>F6</Key>
        </button>
        {clip && (
          <button type="button" className="link min-h-[28px] max-[899px]:min-h-[44px]" onClick={() => set('')}>
            As the sheet has it
          </button>
        )}
      </p>
    );
  }
  return (
    <form
      aria-label="Where the black clip is"
      className="flex w-full flex-wrap items-end gap-3 border-l-4 border-rust bg-rust-wash px-3 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (chosen) {
          set(chosen.printed);
          ask(false);
        }
      }}
    >
      <div className="min-w-[220px] grow">
        <PinBox label="My black clip is on" field={field} pins={places} value={chosen} onChange={setChosen} />
      </div>
      <button type="submit" className="action" disabled={!chosen}>
        It stays there <Key>Enter</Key>
      </button>
      <button type="button" className="quiet min-h-[44px]" onClick={() => ask(false)}>
        Leave
      </button>
      <p className="w-full text-[14px] text-ink-2">
        {places.length === 0
          ? 'Nothing else is known to be of this return. Wires without a direction say what is.'
          : 'Any pin of the same return. What is read then is read against it.'}
      </p>
    </form>
  );
}
