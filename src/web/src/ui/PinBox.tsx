import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { useState } from 'react';

export interface NamedPin {
  printed: string;
  signal: string;
}

interface PinBoxProps<Pin extends NamedPin> {
  label: string;
  pins: Pin[];
  value: Pin | null;
  onChange: (pin: Pin | null) => void;
  autoFocus?: boolean;
  /** Told of the field, so that the hand can be led to it. */
  field?: React.RefObject<HTMLInputElement | null>;
}

/** Names compare without their dashes and dots, but for the sign of a terminal at the end: z1j26, ps-. */
const plain = (text: string) => text.toLowerCase().replace(/[·.\s]|-(?=.)/g, '');
const bare = (text: string) => plain(text).replace(/-$/, '');

/** The pins that a text may mean, at most eight; exact names before near ones. */
export function found<Pin extends NamedPin>(pins: Pin[], query: string): Pin[] {
  const exact = pins.filter((p) => plain(p.printed).includes(plain(query)));
  const near = pins.filter(
    (p) => bare(p.printed).includes(bare(query)) || p.signal.toLowerCase().includes(query.toLowerCase()),
  );
  return (exact.length > 0 ? exact : near).slice(0, 8);
}

/** A pin by its name; dashes and dots may be left out: z1j26 finds Z1-J2·6. */
export function PinBox<Pin extends NamedPin>({ label, pins, value, onChange, autoFocus, field }: PinBoxProps<Pin>) {
  const [query, setQuery] = useState('');
  return (
    <Combobox
      as="div"
      className="relative"
      value={value}
      onChange={onChange}
      onClose={() => setQuery('')}
      by="printed"
      immediate
    >
      <label>
        {label}
        <ComboboxInput
          {...(field ? { ref: field } : {})}
          autoFocus={autoFocus ?? false}
          autoComplete="off"
          className="field mt-1 font-mono"
          displayValue={(p: Pin | null) => p?.printed ?? ''}
          onChange={(event) => setQuery(event.target.value)}
        />
      </label>
      <ComboboxOptions modal={false} className="absolute inset-x-0 top-full z-20 border border-rule-2 bg-sheet">
        {found(pins, query).map((p) => (
          <ComboboxOption
            key={p.printed}
            value={p}
            className="flex min-h-[34px] cursor-pointer items-center justify-between gap-2 px-2 data-focus:bg-rust-wash max-[899px]:min-h-[44px]"
          >
            <span className="font-mono whitespace-nowrap">{p.printed}</span>
            <span className="truncate text-[14px] text-ink-2">{p.signal}</span>
          </ComboboxOption>
        ))}
      </ComboboxOptions>
    </Combobox>
  );
}
