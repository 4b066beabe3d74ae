import { useState } from 'react';
import { useDraft } from '../ui/useDraft';

/** A name that is kept when it is left, and can be taken back until then. */
export function Name({
  label,
  value,
  className,
  keep,
}: {
  label: string;
  value: string;
  className: string;
  keep: (name: string) => void;
}) {
  const [text, setText] = useState<string>();
  return (
    <input
      aria-label={label}
      className={`border-0 bg-transparent px-1 py-1 ${className}`}
      value={text ?? value}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => {
        if (text !== undefined) {
          keep(text);
          setText(undefined);
        }
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter') {
          event.currentTarget.blur();
        } else if (event.key === 'Escape') {
          setText(undefined);
        }
      }}
    />
  );
}

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
          {text.trim()} is there already: give it a name of its own.
        </p>
      )}
    </form>
  );
}
