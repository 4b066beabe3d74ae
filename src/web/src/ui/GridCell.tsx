import { type KeyboardEvent } from 'react';

interface CellInputProps {
  label: string;
  typed: string;
  setTyped: (text: string) => void;
  choices: string[] | undefined;
  onKeyDown: (event: KeyboardEvent) => void;
  onLeave: () => void;
}

export function CellInput({ label, typed, setTyped, choices, onKeyDown, onLeave }: CellInputProps) {
  return (
    <>
      <input
        autoFocus
        aria-label={label}
        list={choices ? 'grid-choices' : undefined}
        className="h-[27px] w-full min-w-[60px] border-2 border-rust bg-sheet px-1 font-mono max-[899px]:h-[40px]"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={onKeyDown}
        onBlur={onLeave}
      />
      {choices && (
        <datalist id="grid-choices">
          {choices.map((choice) => (
            <option key={choice} value={choice} />
          ))}
        </datalist>
      )}
    </>
  );
}
