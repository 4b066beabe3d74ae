import type { ReactNode } from 'react';

/** A key, shown where it acts. */
export function Key({ children }: { children: ReactNode }) {
  return <kbd className="border border-rule-2 px-1.5 py-px font-mono text-[12px] whitespace-nowrap">{children}</kbd>;
}
