import type { ReasonView } from '../api/generated';

const width = 340;
const height = 104;

/** How suspicion moved over the visit: a line for each of the first suspects. */
export function Moved({ view }: { view: ReasonView }) {
  if (view.moved.length < 3) {
    return null;
  }
  const shown = [...view.suspects]
    .map((s) => ({ ...s, most: Math.max(...view.moved.map((m) => m.shares[s.id] ?? 0)) }))
    .filter((s) => s.most > 0.08)
    .slice(0, 4);
  const x = (i: number) => (i * width) / (view.moved.length - 1);
  const y = (share: number) => 4 + (1 - share) * (height - 8);
  const strokes = ['stroke-rust', 'stroke-ink', 'stroke-ink-2', 'stroke-idle'];
  const dashes = [undefined, undefined, '5 3', '2 3'];
  return (
    <section aria-label="How suspicion moved" className="mt-4">
      <h2 className="border-b border-rule-2 pb-1 text-[15px]">How suspicion moved</h2>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="w-full"
        role="img"
        aria-label={shown
          .map((s) => `${s.name}: ${view.moved.map((m) => Math.round(100 * (m.shares[s.id] ?? 0))).join(', ')} %`)
          .join('; ')}
      >
        {[0, 0.5, 1].map((at) => (
          <line key={at} x1={0} x2={width} y1={y(at)} y2={y(at)} className="stroke-rule" />
        ))}
        {shown.map((s, i) => (
          <path
            key={s.id}
            d={view.moved
              .map((m, n) => {
                const at = y(m.shares[s.id] ?? 0);
                return n === 0 ? `M0,${at}` : `H${x(n)} V${at}`;
              })
              .join(' ')}
            fill="none"
            strokeWidth={i === 0 ? 2.5 : 1.8}
            strokeDasharray={dashes[i]}
            className={strokes[i]}
          />
        ))}
      </svg>
      <ul className="text-[13px] leading-snug">
        {shown.map((s, i) => (
          <li key={s.id} className="flex items-center gap-2">
            <svg width={28} height={8} aria-hidden="true" className="shrink-0">
              <line
                x1={0}
                x2={28}
                y1={4}
                y2={4}
                strokeWidth={i === 0 ? 2.5 : 1.8}
                strokeDasharray={dashes[i]}
                className={strokes[i]}
              />
            </svg>
            <span className={`min-w-0 ${i === 0 ? 'font-bold text-rust' : ''}`}>{s.name}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
