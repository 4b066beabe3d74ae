import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { type KeyboardEvent, type Ref, useRef } from 'react';

interface SuggestBoxProps {
  /** Whom the field is for, where no label stands around it. */
  name?: string;
  value: string;
  /** What is usually written here, with a word on each where that helps. */
  usual: readonly { text: string; words?: string }[];
  onChange: (text: string) => void;
  onKeyDown?: (event: KeyboardEvent) => void;
  onBlur?: () => void;
  field?: Ref<HTMLInputElement>;
  autoFocus?: boolean;
  className: string;
}

/** Free text with what is usually written here below it. Nothing is chosen that was not gone to by arrows or pressed. */
export function SuggestBox({
  name,
  value,
  usual,
  onChange,
  onKeyDown,
  onBlur,
  field,
  autoFocus = false,
  className,
}: SuggestBoxProps) {
  const isGoingThrough = useRef(false);
  const typed = value.trim().toLowerCase();
  const near = usual.filter((u) => u.text.toLowerCase() !== typed && u.text.toLowerCase().includes(typed)).slice(0, 8);
  /** Enter and Escape are the list's only once one goes through it; until then they are the form's. */
  const onKey = (event: KeyboardEvent) => {
    const isArrow = event.key === 'ArrowDown' || event.key === 'ArrowUp';
    if (near.length > 0 && (isArrow || (isGoingThrough.current && ['Enter', 'Escape'].includes(event.key)))) {
      isGoingThrough.current = isArrow;
      return;
    }
    isGoingThrough.current = false;
    event.stopPropagation();
    onKeyDown?.(event);
  };
  return (
    <Combobox
      as="div"
      className="relative"
      value={value}
      onChange={(text: string | null) => text !== null && onChange(text)}
      onKeyDownCapture={onKey}
    >
      <ComboboxInput
        {...(field ? { ref: field } : {})}
        {...(name === undefined ? {} : { 'aria-label': name })}
        autoFocus={autoFocus}
        autoComplete="off"
        autoCapitalize="off"
        className={className}
        onChange={(event) => onChange(event.target.value)}
        onBlur={onBlur}
      />
      {near.length > 0 && (
        <ComboboxOptions
          modal={false}
          className="absolute top-full left-0 z-20 min-w-full border border-rule-2 bg-sheet text-[15px] font-normal"
        >
          {near.map(({ text, words }) => (
            <ComboboxOption
              key={text}
              value={text}
              className="flex min-h-[34px] cursor-pointer items-center gap-3 px-2 whitespace-nowrap data-focus:bg-rust-wash max-[899px]:min-h-[44px]"
            >
              <span className="font-mono">{text}</span>
              {words && <span className="text-[14px] text-ink-2">{words}</span>}
            </ComboboxOption>
          ))}
        </ComboboxOptions>
      )}
    </Combobox>
  );
}
