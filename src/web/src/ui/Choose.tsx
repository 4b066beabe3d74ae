import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';
import { useRef } from 'react';
import { Chosen } from './Tick';

export interface Option<T extends string = string> {
  value: T;
  words: string;
}

/** Options from values and their words, by value or in pairs. */
export const optionsOf = <T extends string>(
  words: Record<T, string> | readonly (readonly [value: T, words: string])[],
): Option<T>[] =>
  (Array.isArray(words) ? (words as [T, string][]) : (Object.entries(words) as [T, string][])).map(([value, text]) => ({
    value,
    words: text,
  }));

interface ChooseProps<T extends string> {
  /** What is chosen, for those who hear it, where no label stands around. */
  name?: string;
  value: T;
  options: readonly Option<T>[];
  onChange: (value: T) => void;
  disabled?: boolean;
  invalid?: boolean;
  autoFocus?: boolean;
  className?: string;
}

/** Letters belong to one word as long as no more time lies between them, in ms. */
const oneWord = 700;

/** One of several, all in sight while one chooses; arrows and Enter. The first letters choose it without opening, too. */
export function Choose<T extends string>({
  name,
  value,
  options,
  onChange,
  disabled,
  invalid,
  autoFocus = false,
  className = '',
}: ChooseProps<T>) {
  const letters = useRef({ typed: '', at: 0 });
  const onKeyDown = (event: React.KeyboardEvent) => {
    if (event.key.length !== 1 || event.key === ' ' || event.ctrlKey || event.altKey || event.metaKey) {
      return;
    }
    // When the key went down, not when a busy page came to look at it.
    const now = event.timeStamp;
    const { typed, at } = letters.current;
    letters.current = { typed: (now - at < oneWord ? typed : '') + event.key.toLowerCase(), at: now };
    const found = options.find((o) => o.words.toLowerCase().startsWith(letters.current.typed));
    if (found && found.value !== value) {
      onChange(found.value);
    }
    event.preventDefault();
  };
  return (
    <Listbox value={value} onChange={onChange} {...(disabled ? { disabled } : {})}>
      <ListboxButton
        aria-label={name}
        aria-invalid={invalid}
        autoFocus={autoFocus}
        data-value={value}
        onKeyDown={onKeyDown}
        onBlur={() => (letters.current.typed = '')}
        className={`field inline-flex cursor-pointer items-center justify-between gap-2 text-left disabled:cursor-default disabled:text-idle ${className}`}
      >
        <span className="min-w-0 truncate">{options.find((o) => o.value === value)?.words ?? value}</span>
        <Caret />
      </ListboxButton>
      <ListboxOptions
        anchor={{ to: 'bottom start', gap: 2, padding: 8 }}
        modal={false}
        className="z-40 max-h-[60dvh] min-w-(--button-width) overflow-y-auto border border-rule-2 bg-sheet text-[15px] text-ink focus:outline-none"
      >
        {options.map((o) => (
          <ListboxOption
            key={o.value}
            value={o.value}
            className="flex min-h-[34px] cursor-pointer items-center gap-2 px-3 data-focus:bg-rust-wash data-selected:font-bold max-[899px]:min-h-[44px]"
          >
            <span className="w-[14px] shrink-0">{o.value === value && <Chosen />}</span>
            {o.words}
          </ListboxOption>
        ))}
      </ListboxOptions>
    </Listbox>
  );
}

/** Something opens here. */
export function Caret() {
  return (
    <svg viewBox="0 0 10 6" className="h-[6px] w-[10px] shrink-0 fill-current" aria-hidden="true">
      <path d="M0,0 H10 L5,6 Z" />
    </svg>
  );
}
