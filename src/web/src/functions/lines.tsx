import { useState } from 'react';
import { useDraft } from '../ui/useDraft';

/** A name that is kept when it is left, and can be taken back until then; one that is there already stays to be changed. */
export function Name({
  draft,
  label,
  value,
  className,
  keep,
}: {
  draft: string;
  label: string;
  value: string;
  className: string;
  /** False where there is one of that name already. */
  keep: (name: string) => boolean;
}) {
  const [text, setText] = useDraft(`${draft}/${label}`, value);
  const [isTwice, setIsTwice] = useState(false);
  const write = (next: string) => {
    setIsTwice(false);
    setText(next);
  };
  return (
    <span className="relative block">
      <input
        aria-label={label}
        aria-invalid={isTwice}
        className={`border-0 px-1 py-1 ${isTwice ? 'bg-out-wash text-out' : 'bg-transparent'} ${className}`}
        value={text}
        onChange={(event) => write(event.target.value)}
        onBlur={() => {
          const isKept = text.trim() === value || keep(text.trim());
          setIsTwice(!isKept);
          if (isKept) {
            setText(value);
          }
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            event.currentTarget.blur();
          } else if (event.key === 'Escape') {
            write(value);
          }
        }}
      />
      {isTwice && (
        <span
          role="alert"
          className="absolute top-full left-0 z-10 w-[220px] border-l-4 border-out bg-out-wash px-2 py-1 text-[14px] font-normal text-out"
        >
          {twice(text)}
        </span>
      )}
    </span>
  );
}

const twice = (name: string) => `${name.trim()} is there already: give it a name of its own.`;

export const isSameName = (one: string, other: string): boolean => one.toLowerCase() === other.toLowerCase();

/** One more of something, by its name. */
export function AddLine({
  name,
  label,
  example,
  add,
}: {
  name: string;
  label: string;
  example: string;
  /** False where there is one of that name already: what was typed stays. */
  add: (text: string) => boolean;
}) {
  const [text, setText] = useDraft(name);
  const [isTwice, setIsTwice] = useState(false);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim()) {
          const isAdded = add(text.trim());
          setIsTwice(!isAdded);
          if (isAdded) {
            setText('');
          }
        }
      }}
    >
      <label>
        {label}
        <span className="flex gap-2">
          <input
            className="field"
            autoComplete="off"
            placeholder={example}
            value={text}
            onChange={(event) => {
              setIsTwice(false);
              setText(event.target.value);
            }}
          />
          <button type="submit" className="quiet min-h-[38px] px-4 max-[899px]:min-h-[44px]" disabled={!text.trim()}>
            Add
          </button>
        </span>
      </label>
      {isTwice && (
        <p role="alert" className="text-[14px] text-out">
          {twice(text)}
        </p>
      )}
    </form>
  );
}
