import type { PinOnMap } from '../api/generated';
import { type MarkKind, MarkShape, markColour, markWords } from '../ui/Mark';
import { pressed } from '../ui/pressed';

interface PinShapeProps {
  pin: PinOnMap;
  /** Where it is drawn: on the map in millimetres, on a photograph in pixels. */
  x: number;
  y: number;
  radius: number;
  role: 'red' | 'black' | undefined;
  mark: MarkKind | undefined;
  onPick: ((pin: PinOnMap) => void) | undefined;
  /** Lets what lies under it be seen, as on a photograph. */
  clear?: boolean;
}

/** A pin on map or photograph: pin 1 square, under its probe, with the mark of what was read there. */
export function PinShape({ pin, x, y, radius, role, mark, onPick, clear }: PinShapeProps) {
  const name = `${pin.printed}, ${pin.words}${mark ? `, ${markWords(mark)}` : ''}${role === 'red' ? ', red probe' : role === 'black' ? ', black probe' : ''}`;
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
