import { useEffect, useRef } from 'react';
import type { PathView } from '../api/generated';
import { MarkShape, markColour } from '../ui/Mark';

const step = 88;
const edge = 44;

/** From so much on a share is said at its pin. */
const worthSaying = 0.05;

/** The power path as a line: solid where proved, dashed rust and bracketed where the fault lies, pale where not reached. */
export function PathLine({
  path,
  here,
  onPick,
}: {
  path: PathView;
  here: string | undefined;
  onPick: (key: string) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const stretch = path.stretches.find((s) => s.toPoint !== null);
  const at = path.points.findIndex((p) => p.printed === here);
  const focus = stretch?.toPoint ?? (at >= 0 ? at : 0);
  useEffect(() => {
    const width = box.current?.clientWidth ?? 0;
    box.current?.scrollTo({ left: focus * step + edge - width * 0.62 });
  }, [focus]);
  const width = (path.points.length - 1) * step + 2 * edge;
  const x = (i: number) => edge + i * step;
  const isWeighed = path.points.some((p) => p.suspected >= worthSaying);
  return (
    <div
      ref={box}
      className="overflow-x-auto"
      role="region"
      aria-label={`Power path, ${path.stateName}`}
      tabIndex={0}
      data-testid="path"
    >
      <svg width={width} height={isWeighed ? 66 : 62} className="block">
        {path.pieces.map((piece, i) => (
          <line
            key={path.points[i]?.printed}
            x1={x(i) + 11}
            x2={x(i + 1) - 11}
            y1={26}
            y2={26}
            strokeWidth={3}
            strokeDasharray={piece === 'suspect' ? '8 5' : undefined}
            className={piece === 'proved' ? 'stroke-ink' : piece === 'suspect' ? 'stroke-rust' : 'stroke-rule-2'}
          />
        ))}
        {stretch?.fromPoint != null && stretch.toPoint !== null && (
          <path
            d={`M${x(stretch.fromPoint)},14 V5 H${x(stretch.toPoint)} V14`}
            fill="none"
            className="stroke-rust"
            strokeWidth={2}
          />
        )}
        {path.points.map((point, i) => {
          const kind = point.printed === here ? 'here' : (point.mark ?? (point.cleared ? 'cleared' : 'untouched'));
          const pick = point.checkKey;
          return (
            <g
              key={point.printed}
              className={pick ? 'cursor-pointer' : ''}
              {...(pick ? { onClick: () => onPick(pick), 'aria-hidden': true } : { 'aria-hidden': true })}
            >
              <g transform={`translate(${x(i)} 26) scale(8)`} className={markColour(kind)}>
                <circle r={1.2} className="fill-sheet" />
                <MarkShape kind={kind} />
              </g>
              <text
                x={x(i)}
                y={isWeighed ? 49 : 56}
                textAnchor="middle"
                fontSize={13}
                className={`fill-ink font-mono ${kind === 'here' ? 'font-bold' : ''}`}
              >
                {point.printed}
              </text>
              {point.suspected >= worthSaying && (
                <text x={x(i)} y={63} textAnchor="middle" fontSize={13} className="fill-rust font-mono">
                  {Math.round(100 * point.suspected)} %
                </text>
              )}
            </g>
          );
        })}
      </svg>
    </div>
  );
}

/** One sentence under the path: where the fault lies and what to check next. */
export function PathWords({ path }: { path: PathView }) {
  return (
    <div data-testid="path-words" className="pt-0.5">
      {path.stretches.length === 0 && <p className="font-semibold">{path.summary}</p>}
      {path.stretches.map((stretch, i) => (
        <div key={stretch.sentence}>
          <p className={i > 0 && path.stretches[0]?.bad === '' ? 'text-ink-2' : 'font-semibold'}>
            <Named text={`${stretch.sentence} ${stretch.next}`} names={[...stretch.goodEnds, stretch.bad]} />
          </p>
        </div>
      ))}
    </div>
  );
}

const pinName = /([^\s,:;]+·[^\s,:;]*[^\s,:;.])/;

/** Pin names keep to one line; the ends of the stretch are washed in rust where the sentence first names them. */
function Named({ text, names }: { text: string; names: string[] }) {
  const washed = new Set<string>();
  return text.split(pinName).map((part, i) => {
    if (i % 2 === 0) {
      return part;
    }
    const first = names.includes(part) && !washed.has(part);
    washed.add(part);
    return (
      <span key={`${part}${i}`} className={`whitespace-nowrap ${first ? 'bg-rust-wash px-1' : ''}`}>
        {part}
      </span>
    );
  });
}
