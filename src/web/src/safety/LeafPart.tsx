import type { ReactNode } from 'react';

export function LeafPart({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="mb-3">
      <h2 className="border-b border-rule-2 pb-1">{title}</h2>
      {children}
    </section>
  );
}
