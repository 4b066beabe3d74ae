import type { ReactNode } from 'react';
import type { useSheet } from './useSheet';

/** Rules of a model as lines, one each. */
export function LinesLeaf({
  name,
  title,
  hint,
  kept: keeping,
}: {
  name: string;
  title: string;
  hint: ReactNode;
  kept: ReturnType<typeof useSheet<{ lines: string[] }>>;
}) {
  const { sheet, change, settle, kept } = keeping;
  return (
    <section aria-labelledby={name} className="mt-6">
      <h2 id={name} className="title">
        {title}
      </h2>
      <p className="text-[14px] text-ink-2">{hint}</p>
      <textarea
        aria-label={title}
        className="field mt-1 font-mono text-[14px]"
        rows={Math.max(3, sheet.lines.length + 1)}
        value={sheet.lines.join('\n')}
        onChange={(event) => change({ lines: event.target.value.split('\n') })}
        onBlur={() => settle(sheet)}
      />
      {kept}
    </section>
  );
}
