import type { BoardMap as Map, ElementOnMap, PinOnMap } from '../api/generated';
import { type MarkKind, MarkShape, markColour, markWords } from '../ui/Mark';

interface BoardMapProps {
  map: Map;
  /** Pins under a probe or chosen, by id. */
  red?: string | undefined;
  black?: string | undefined;
  marks?: ReadonlyMap<string, MarkKind>;
  /** Shows the part around the red pin instead of the whole board. */
  zoomed?: boolean;
  onPick?: (pin: PinOnMap) => void;
  className?: string;
}

/** The board to scale, from Core's places: outline, connectors, every pin; the square pin is pin 1. */
export function BoardMap({ map, red, black, marks, zoomed, onPick, className }: BoardMapProps) {
  const view = viewOf(map, zoomed ? map.pins.find((p) => p.id === red) : undefined);
  const letter = view.width / 26;
  const radius = map.pitchMm * 0.34;
  return (
    <svg
      viewBox={`${view.x} ${view.y} ${view.width} ${view.height}`}
      className={className}
      role="group"
      aria-label={`${map.boardName} ${map.facingWords}`}
      data-testid="board-map"
    >
      <rect
        x={0}
        y={0}
        width={map.width}
        height={map.height}
        className="fill-sheet stroke-ink"
        strokeWidth={letter / 6}
      />
      {map.elements.map((element) => {
        const below = element.y < letter * 2;
        const words = fitted(
          element.rating || element.purpose,
          roomRightOf(element, map) / letter - element.designator.length * 0.62,
        );
        return (
          <g key={element.id}>
            <rect
              x={element.x}
              y={element.y}
              width={element.width}
              height={element.height}
              className="fill-none stroke-ink"
              strokeWidth={letter / 9}
            />
            <text
              x={element.x}
              y={below ? element.y + element.height + letter : element.y - letter / 2.6}
              fontSize={letter}
              className="fill-ink font-bold"
            >
              {element.designator}
              <tspan className="fill-ink-2 font-normal" dx={letter / 2} fontSize={letter * 0.9}>
                {words}
              </tspan>
            </text>
          </g>
        );
      })}
      {map.pins.map((pin) => (
        <PinShape
          key={pin.id}
          pin={pin}
          radius={radius}
          role={pin.id === red ? 'red' : pin.id === black ? 'black' : undefined}
          mark={marks?.get(pin.id)}
          onPick={onPick}
        />
      ))}
    </svg>
  );
}

/** Millimetres to the next element in the line, or to the edge of the board. */
function roomRightOf(element: ElementOnMap, map: Map): number {
  const next = map.elements.filter((e) => e.x > element.x && Math.abs(e.y - element.y) < 6).map((e) => e.x);
  return Math.min(map.width, ...next) - element.x;
}

/** As much of a text as fits into so many letter heights; nothing rather than a stump. */
function fitted(text: string, room: number): string {
  const signs = Math.floor((room - 1) / 0.46);
  return text.length <= signs ? text : signs < 5 ? '' : `${text.slice(0, signs - 1).trimEnd()}…`;
}

function viewOf(map: Map, around: PinOnMap | undefined) {
  const edge = 2;
  if (!around) {
    return { x: -edge, y: -edge, width: map.width + 2 * edge, height: map.height + 2 * edge };
  }
  const width = Math.min(map.width, Math.max(map.pitchMm * 11, map.width * 0.6));
  const height = Math.min(map.height, width * 1.1);
  const clamp = (middle: number, size: number, of: number) =>
    Math.max(-edge, Math.min(middle - size / 2, of - size + edge));
  return { x: clamp(around.x, width, map.width), y: clamp(around.y, height, map.height), width, height };
}

interface PinShapeProps {
  pin: PinOnMap;
  radius: number;
  role: 'red' | 'black' | undefined;
  mark: MarkKind | undefined;
  onPick: ((pin: PinOnMap) => void) | undefined;
}

function PinShape({ pin, radius, role, mark, onPick }: PinShapeProps) {
  const name = `${pin.printed}, ${pin.words}${mark ? `, ${markWords(mark)}` : ''}${role === 'red' ? ', red probe' : role === 'black' ? ', black probe' : ''}`;
  const shape = pin.isFirst ? (
    <rect
      x={-radius}
      y={-radius}
      width={2 * radius}
      height={2 * radius}
      className="fill-paper stroke-ink-2"
      strokeWidth={radius / 6}
    />
  ) : (
    <circle r={radius} className="fill-paper stroke-ink-2" strokeWidth={radius / 6} />
  );
  const drawn = (
    <g transform={`translate(${pin.x} ${pin.y})`} data-pin={pin.printed} data-words={pin.words}>
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
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={name}
      className="cursor-pointer"
      onClick={() => onPick(pin)}
      onKeyDown={(event) => {
        if (event.key === 'Enter' || event.key === ' ') {
          event.preventDefault();
          onPick(pin);
        }
      }}
    >
      {drawn}
    </g>
  );
}
