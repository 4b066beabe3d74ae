import type { KeyboardEvent } from 'react';
import { SuggestBox } from './SuggestBox';

interface CellInputProps {
  label: string;
  typed: string;
  setTyped: (text: string) => void;
  choices: string[] | undefined;
  onKeyDown: (event: KeyboardEvent) => void;
  onLeave: () => void;
}

const look = 'h-[27px] w-full min-w-[60px] border-2 border-rust bg-sheet px-1 font-mono max-[899px]:h-[40px]';

export function CellInput({ label, typed, setTyped, choices, onKeyDown, onLeave }: CellInputProps) {
  return choices ? (
    <SuggestBox
      name={label}
      autoFocus
      usual={choices.map((text) => ({ text }))}
      className={look}
      value={typed}
      onChange={setTyped}
      onKeyDown={onKeyDown}
      onBlur={onLeave}
    />
  ) : (
    <input
      autoFocus
      aria-label={label}
      className={look}
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      onKeyDown={onKeyDown}
      onBlur={onLeave}
    />
  );
}
