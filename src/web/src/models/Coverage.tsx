import type { CoverageSpan } from '../api/generated';
import { Mark } from '../ui/Mark';

const width = 640;
const rowHeight = 40;
const day = 86_400_000;

const at = (date: string) => new Date(`${date}T00:00:00Z`).getTime();
const words = (s: CoverageSpan) =>
  `${s.from ?? 'the beginning'} to ${s.to ?? 'today'}: ${s.variants.length === 0 ? 'no build' : s.variants.join(' and ')}`;

/** The rules on a time line: one line for each supply, serial range or finish they tell apart; gaps and overlaps marked. */
export function Coverage({ spans }: { spans: CoverageSpan[] }) {
  const edges = spans.flatMap((s) => [s.from, s.to].filter((d): d is string => d !== null).map(at));
  if (edges.length === 0) {
    return null;
  }
  const margin = Math.max(365 * day, (Math.max(...edges) - Math.min(...edges)) * 0.12);
  const [first, last] = [Math.min(...edges) - margin, Math.max(...edges) + margin];
  const x = (time: number) => ((time - first) / (last - first)) * width;
  // The end of one range and the beginning of the next share a label.
  const labelled = [...new Set(edges)]
    .sort((a, b) => a - b)
    .filter((e, i, all) => i === 0 || x(e) - x(all[i - 1] ?? 0) > 44);
  const cases = [...new Set(spans.map((s) => s.case))];
  const wrong = spans.filter((s) => (s.isGap && !s.isOuter) || s.isOverlap);
  const outer = spans.filter((s) => s.isGap && s.isOuter);
  // Of one build alone nothing can be said about what lies between.
  const builds = new Set(spans.flatMap((s) => s.variants)).size;
  return (
    <section aria-label="Time line of the builds" className="mt-2">
      <svg
        viewBox={`0 0 ${width} ${cases.length * rowHeight + 22}`}
        className="w-full max-w-[860px]"
        role="img"
        aria-label={spans.map((s) => `${s.case} ${words(s)}`).join('; ')}
      >
        {cases.map((name, row) => (
          <g key={name} transform={`translate(0 ${row * rowHeight})`}>
            <text x={0} y={10} fontSize={10} fill="var(--ink-2)">
              {name || 'all'}
            </text>
            {spans
              .filter((s) => s.case === name)
              .map((s) => {
                const [from, to] = [s.from ? x(at(s.from)) : 0, s.to ? x(at(s.to) + day) : width];
                const y = 22;
                return (
                  <g key={`${s.from} ${s.to}`}>
                    <title>{words(s)}</title>
                    {s.isGap ? (
                      <line
                        x1={from}
                        x2={to}
                        y1={y}
                        y2={y}
                        stroke={s.isOuter ? 'var(--idle)' : 'var(--out)'}
                        strokeWidth={2}
                        strokeDasharray="3 5"
                      />
                    ) : s.isOverlap ? (
                      <>
                        <line x1={from} x2={to} y1={y - 3} y2={y - 3} stroke="var(--out)" strokeWidth={3} />
                        <line x1={from} x2={to} y1={y + 3} y2={y + 3} stroke="var(--out)" strokeWidth={3} />
                      </>
                    ) : (
                      <line x1={from} x2={to} y1={y} y2={y} stroke="var(--ink)" strokeWidth={5} />
                    )}
                    <line x1={from} x2={from} y1={y - 7} y2={y + 7} stroke="var(--ink)" strokeWidth={1} />
                    <text
                      x={from + 3}
                      y={y + 15}
                      fontSize={9.5}
                      fill={s.isOverlap || (s.isGap && !s.isOuter) ? 'var(--out)' : 'var(--ink)'}
                    >
                      {clipped(s.isGap ? 'no build' : s.variants.join(' + '), to - from)}
                    </text>
                  </g>
                );
              })}
          </g>
        ))}
        {labelled.map((e) => (
          <text
            key={e}
            x={x(e)}
            y={cases.length * rowHeight + 14}
            fontSize={9.5}
            textAnchor="middle"
            fill="var(--ink-2)"
            fontFamily="monospace"
          >
            {new Date(e).toISOString().slice(0, 7)}
          </text>
        ))}
      </svg>
      <ul className="text-[14px]">
        {wrong.map((s) => (
          <li key={`${s.case} ${s.from}`} className="flex items-center gap-2 text-out">
            <Mark kind="differs" />
            <span>
              <b>{s.isOverlap ? 'Overlap' : 'Gap'}</b> {s.case} {words(s)}
            </span>
          </li>
        ))}
        {wrong.length === 0 && builds > 1 && (
          <li className="flex items-center gap-2 text-within">
            <Mark kind="within" /> No gap between the builds, and no overlap.
          </li>
        )}
        {outer.map((s) => (
          <li key={`outer ${s.case}${s.from}`} className="flex items-center gap-2 text-ink-2">
            <Mark kind="skipped" /> {s.case} {words(s)}
          </li>
        ))}
      </ul>
    </section>
  );
}

const clipped = (text: string, room: number): string =>
  text.length * 5.2 <= room ? text : room < 20 ? '' : `${text.slice(0, Math.floor(room / 5.2) - 1)}…`;
