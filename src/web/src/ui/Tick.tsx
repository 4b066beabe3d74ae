import { Checkbox } from '@headlessui/react';
import type { ReactNode } from 'react';

interface TickBoxProps {
  on: boolean;
  set: (on: boolean) => void;
  /** What it says, for those who hear it, where no label stands around. */
  name?: string;
  className?: string;
}

/** A box that is ticked or not; Space turns it. */
export function TickBox({ on, set, name, className = '' }: TickBoxProps) {
  return (
    <Checkbox
      as="button"
      type="button"
      aria-label={name}
      checked={on}
      onChange={set}
      className={`inline-flex size-[22px] shrink-0 cursor-pointer items-center justify-center border-2 bg-sheet ${on ? 'border-rust text-rust' : 'border-rule-2'} ${className}`}
    >
      {on && <Chosen />}
    </Checkbox>
  );
}

/** A box with its words, pressed anywhere on the line. */
export function Tick({ children, className = '', ...box }: Omit<TickBoxProps, 'name'> & { children: ReactNode }) {
  return (
    <label className={`flex min-h-[38px] cursor-pointer items-center gap-2 max-[899px]:min-h-[44px] ${className}`}>
      <TickBox {...box} className="" />
      <span>{children}</span>
    </label>
  );
}

/** This one it is. */
export function Chosen() {
  return (
    <svg viewBox="0 0 12 12" className="size-[14px] fill-none stroke-current" strokeWidth={2.4} aria-hidden="true">
      <path d="M1,6.5 L4.5,10 L11,2" />
    </svg>
  );
}
