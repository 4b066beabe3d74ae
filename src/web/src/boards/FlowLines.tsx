import type { PinOnMap } from '../api/generated';
import type { BoardFlows } from '../circuits/flows';

interface FlowProps {
  flows: BoardFlows;
  pins: PinOnMap[];
  letter: number;
}

/** What flows from pin to pin: the more, the thicker; a cross where it stops. */
export function FlowLines({ flows, pins, letter }: FlowProps) {
  const at = new Map(pins.map((p) => [p.id, p]));
  return (
    <g aria-hidden="true" className="pointer-events-none">
      {flows.lines.map((line) => {
        const [a, b] = [at.get(line.from), at.get(line.to)];
        if (!a || !b) {
          return null;
        }
        const width = line.amps < 1e-6 ? 0.06 : 0.12 + Math.min(0.5, 0.12 * Math.log10(1 + line.amps * 100));
        const [x, y, arm] = [(a.x + b.x) / 2, (a.y + b.y) / 2, letter * 0.45];
        return (
          <g key={line.from + line.to}>
            <line
              x1={a.x}
              y1={a.y}
              x2={b.x}
              y2={b.y}
              strokeWidth={letter * width}
              strokeDasharray={line.amps < 1e-6 ? `${letter * 0.3}` : undefined}
              className={line.stops ? 'stroke-out' : line.amps < 1e-6 ? 'stroke-rule-2' : 'stroke-ink-2'}
            />
            {line.stops && (
              <path
                d={`M${x - arm},${y - arm} l${2 * arm},${2 * arm} M${x + arm},${y - arm} l${-2 * arm},${2 * arm}`}
                strokeWidth={letter * 0.22}
                className="stroke-out"
              />
            )}
          </g>
        );
      })}
    </g>
  );
}

/** The volts of each pin, beside it; of neighbours that read the same only the first is written. */
export function FlowVolts({ flows, pins, letter }: FlowProps) {
  const size = letter * 0.95;
  const written: { x: number; y: number; words: string }[] = [];
  for (const pin of pins) {
    const words = flows.volts.get(pin.id);
    const isNear = written.some((w) => Math.abs(w.y - pin.y) < size * 1.05 && Math.abs(w.x - pin.x) < size * 4.2);
    if (words && !isNear) {
      written.push({ x: pin.x, y: pin.y, words });
    }
  }
  return (
    <g aria-hidden="true" className="pointer-events-none">
      {written.map((w) => (
        <text
          key={`${w.x} ${w.y}`}
          x={w.x + letter * 0.45}
          y={w.y + size * 0.36}
          fontSize={size}
          className="fill-ink stroke-sheet font-mono font-bold"
          strokeWidth={size * 0.35}
          paintOrder="stroke"
        >
          {w.words}
        </text>
      ))}
    </g>
  );
}
