import type { PinOnMap } from '../api/generated';
import { type MarkKind, MarkShape, markColour, markWords } from '../ui/Mark';
import { pressed } from '../ui/pressed';

/** So many times the radius of its pin is the ring of what is suspected there. */
export const ringOf = 2.3;

interface PinShapeProps {
  pin: PinOnMap;
  /** Where it is drawn: on the map in millimetres, on a photograph in pixels. */
  x: number;
  y: number;
  radius: number;
  role: 'red' | 'black' | undefined;
  mark: MarkKind | undefined;
  /** How likely something is at fault that ends there, 0 to 1. */
  suspected?: number | undefined;
  onPick: ((pin: PinOnMap) => void) | undefined;
  /** Lets what lies under it be seen, as on a photograph. */
  clear?: boolean;
}

/** A pin on map or photograph: pin 1 square, under its probe, with the mark of what was read there. */
export function PinShape({ pin, x, y, radius, role, mark, suspected, onPick, clear }: PinShapeProps) {
  const name = `${pin.printed}, ${pin.words}${mark ? `, ${markWords(mark)}` : ''}${role === 'red' ? ', red probe' : role === 'black' ? ', black probe' : ''}${suspected ? `, suspected ${Math.round(100 * suspected)} %` : ''}`;
  const shape = pin.isFirst ? (
    <rect
      x={-radius}
      y={-radius}
      width={2 * radius}
      height={2 * radius}
      className={clear && !mark ? 'fill-sheet/35 stroke-sheet' : 'fill-paper stroke-ink-2'}
      strokeWidth={radius / (clear ? 3 : 6)}
    />
  ) : (
    <circle
      r={radius}
      className={clear && !mark ? 'fill-sheet/35 stroke-sheet' : 'fill-paper stroke-ink-2'}
      strokeWidth={radius / (clear ? 3 : 6)}
    />
  );
  const drawn = (
    <g transform={`translate(${x} ${y})`} data-pin={pin.printed} data-words={pin.words}>
      {shape}
      {mark && (
        <g transform={`scale(${radius * 0.72})`} className={markColour(mark)}>
          <MarkShape kind={mark} />
        </g>
      )}
      {role === 'red' && <circle r={radius * 1.75} className="fill-none stroke-rust" strokeWidth={radius / 2.6} />}
      {role === 'black' && (
        <circle
          r={radius * 1.5}
          className="fill-none stroke-ink"
          strokeWidth={radius / 3}
          strokeDasharray={`${radius / 2} ${radius / 3}`}
        />
      )}
      {suspected !== undefined && (
        <circle
          r={radius * ringOf}
          className="fill-none stroke-rust"
          strokeWidth={radius / 2.6}
          strokeDasharray={`${radius} ${radius / 1.6}`}
        />
      )}
      <circle r={radius * 1.3} fill="transparent" />
    </g>
  );
  if (!onPick) {
    return (
      <g role="img" aria-label={name}>
        {drawn}
      </g>
    );
  }
  return <g {...pressed(() => onPick(pin), name)}>{drawn}</g>;
}
