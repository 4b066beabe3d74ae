import { memo, useRef } from 'react';
import type { BoardMap as Board, BoardNoteView, Corner, ElementOnMap, PinOnMap } from '../api/generated';
import type { BoardFlows } from '../circuits/flows';
import type { MarkKind } from '../ui/Mark';
import { PanZoom } from '../ui/PanZoom';
import { pressed } from '../ui/pressed';
import { type Size, useSize } from '../ui/useSize';
import { ElementShape } from './ElementShape';
import { FlowLines, FlowVolts } from './FlowLines';
import { NoteFlag } from './NoteFlag';
import { PinShape, ringOf } from './PinShape';

export interface OnBoard {
  /** Pins under a probe or chosen, by id. */
  red?: string | undefined;
  black?: string | undefined;
  marks?: ReadonlyMap<string, MarkKind>;
  /** How likely something is at fault that ends at a pin, by its id. */
  suspected?: ReadonlyMap<string, number>;
  /** Volts and currents of the circuit. */
  flows?: BoardFlows | undefined;
  /** An element that is chosen as a whole. */
  chosen?: string | undefined;
  onPick?: (pin: PinOnMap) => void;
  onPickElement?: (element: ElementOnMap) => void;
  onPickNote?: (note: BoardNoteView) => void;
  /** Gives the board's corners to choose from too. */
  onPickCorner?: (corner: Corner) => void;
}

interface BoardMapProps extends OnBoard {
  map: Board;
  /** Shows the part around the red pin instead of the whole board. */
  zoomed?: boolean;
  /** A tap on the bare board, in millimetres as faced. */
  onTap?: (x: number, y: number) => void;
  className?: string;
}

const edge = 2;
const widestPitch = 6;

/** The board to scale, from Core's places: outline, every element and pin; the square pin is pin 1. */
export function BoardMap({ map, zoomed, onTap, className = '', ...on }: BoardMapProps) {
  const around = zoomed ? map.pins.find((p) => p.id === on.red) : undefined;
  const label = `${map.boardName} ${map.facingWords}`;
  if (around) {
    return <Around map={map} pin={around} label={label} className={className} {...on} />;
  }
  return (
    <PanZoom
      key={`${map.positionId}${map.width}`}
      width={map.width}
      height={map.height}
      edge={edge}
      label={label}
      testId="board-map"
      className={className}
      onTap={onTap}
    >
      <Drawn map={map} letter={(map.width + 2 * edge) / 38} {...on} />
    </PanZoom>
  );
}

interface AroundProps extends OnBoard {
  map: Board;
  pin: PinOnMap;
  label: string;
  className: string;
}

/** The part around a pin, as much of it as there is room for. */
function Around({ map, pin, label, className, ...on }: AroundProps) {
  const svg = useRef<SVGSVGElement>(null);
  const view = viewAround(map, pin, useSize(svg));
  return (
    <svg
      ref={svg}
      viewBox={`${view.x} ${view.y} ${view.width} ${view.height}`}
      className={className}
      role="group"
      aria-label={label}
      data-testid="board-map"
    >
      <Drawn map={map} view={view} letter={view.width / 26} {...on} />
    </svg>
  );
}

interface View {
  x: number;
  y: number;
  width: number;
  height: number;
}

const small = new Set<ElementOnMap['kind']>(['indicator', 'testPoint', 'trimmer', 'component', 'jumper', 'switchBank']);

/** Apart from the view, so that panning and zooming draw nothing anew. */
const Drawn = memo(function Drawn({
  map,
  view,
  letter,
  red,
  black,
  marks,
  suspected,
  flows,
  chosen,
  onPick,
  onPickElement,
  onPickNote,
  onPickCorner,
}: OnBoard & { map: Board; view?: View; letter: number }) {
  const pitches = new Map(map.elements.map((e) => [e.id, e.pitchMm]));
  // The ends of a fuse stand far apart; they are drawn no larger for that.
  const radiusOf = (pin: PinOnMap) => Math.min(pitches.get(pin.elementId) ?? map.pitchMm, widestPitch) * 0.34;
  return (
    <>
      <rect
        x={0}
        y={0}
        width={map.width}
        height={map.height}
        className="fill-sheet stroke-ink"
        strokeWidth={letter / 6}
      />
      {map.elements.map((element) => {
        const size = small.has(element.kind) ? letter * 0.8 : letter;
        const below = element.y < size * 1.3;
        // A name begins and ends within what is in sight; where it cannot, it is left out rather than cut.
        const x = Math.max(element.x, (view?.x ?? 0) + letter / 3);
        const y = below ? element.y + element.height + size : element.y - size / 2.6;
        const long = element.designator.length * 0.62;
        const room = (roomRightOf(element, map, view) - (x - element.x)) / letter;
        const named =
          !view || (room > long && y - size > view.y && y < view.y + view.height && x < element.x + element.width);
        const words = small.has(element.kind) ? '' : fitted(element.rating || element.purpose, room - long);
        return (
          <g
            key={element.id}
            {...pressed(
              onPickElement && (() => onPickElement(element)),
              [element.designator, element.purpose].filter(Boolean).join(', '),
            )}
          >
            {onPickElement && (
              // The name belongs to what is pressed, and so does what lies between it and the shape.
              <rect
                x={element.x}
                y={below ? element.y : element.y - size * 1.2}
                width={Math.max(element.width, element.designator.length * size * 0.62)}
                height={element.height + size * 1.2}
                fill="transparent"
              />
            )}
            <ElementShape element={element} line={letter / 9} chosen={element.id === chosen} />
            {named && (
              <text x={x} y={y} fontSize={size} className="fill-ink font-bold">
                {element.designator}
                <tspan className="fill-ink-2 font-normal" dx={size / 2} fontSize={size * 0.9}>
                  {words}
                </tspan>
              </text>
            )}
          </g>
        );
      })}
      {flows && <FlowLines flows={flows} pins={map.pins} letter={letter} />}
      {map.pins.map((pin) => (
        <PinShape
          key={pin.id}
          pin={pin}
          x={pin.x}
          y={pin.y}
          radius={radiusOf(pin)}
          role={pin.id === red ? 'red' : pin.id === black ? 'black' : undefined}
          mark={marks?.get(pin.id)}
          suspected={suspected?.get(pin.id)}
          onPick={onPick}
        />
      ))}
      {suspected && (
        <Shares
          pins={map.pins}
          place={(pin) => ({ x: pin.x, y: pin.y, r: radiusOf(pin) })}
          suspected={suspected}
          size={letter * 1.2}
        />
      )}
      {flows && <FlowVolts flows={flows} pins={map.pins} letter={letter} />}
      {map.notes
        .filter((n) => n.x !== null && n.y !== null)
        .map((note) => (
          <g key={note.id} {...pressed(onPickNote && (() => onPickNote(note)), `${note.words} at ${note.where}`)}>
            <NoteFlag note={note} x={note.x ?? 0} y={note.y ?? 0} size={letter} />
          </g>
        ))}
      {onPickCorner &&
        map.corners.map(({ corner, x, y }) => (
          <g key={corner} {...pressed(() => onPickCorner(corner), `corner, ${cornerWords(corner)}`)}>
            <circle cx={x} cy={y} r={letter * 0.7} className="fill-rust-wash stroke-rust" strokeWidth={letter / 8} />
          </g>
        ))}
    </>
  );
});

/** The largest share of each element, written under its ring: those of its neighbours would cover one another. */
export function Shares({
  pins,
  place,
  suspected,
  size,
}: {
  pins: readonly PinOnMap[];
  place: (pin: PinOnMap) => { x: number; y: number; r: number } | undefined;
  suspected: ReadonlyMap<string, number>;
  size: number;
}) {
  const largest = new Map<string, PinOnMap>();
  const shareOf = (pin: PinOnMap | undefined) => (pin && suspected.get(pin.id)) ?? 0;
  for (const pin of pins) {
    if (shareOf(pin) > shareOf(largest.get(pin.elementId))) {
      largest.set(pin.elementId, pin);
    }
  }
  return [...largest.values()].map((pin) => {
    const at = place(pin);
    return (
      at && (
        <text
          key={pin.id}
          x={at.x}
          y={at.y + at.r * ringOf + size}
          textAnchor="middle"
          fontSize={size}
          className="fill-rust stroke-sheet font-mono font-bold"
          strokeWidth={size / 4}
          paintOrder="stroke"
          aria-hidden="true"
        >
          {Math.round(100 * shareOf(pin))} %
        </text>
      )
    );
  });
}

const cornerWords = (corner: Corner) => corner.replace(/([A-Z])/g, ' $1').toLowerCase();

/** Millimetres to the next element in the line, or to the edge of the board or of what is in sight. */
function roomRightOf(element: ElementOnMap, map: Board, view: View | undefined): number {
  const next = map.elements.filter((e) => e.x > element.x && Math.abs(e.y - element.y) < 6).map((e) => e.x);
  return Math.min(map.width, view ? view.x + view.width : map.width, ...next) - element.x;
}

/** As much of a text as fits into so many letter heights; nothing rather than a stump. */
function fitted(text: string, room: number): string {
  const signs = Math.floor((room - 1) / 0.46);
  return text.length <= signs ? text : signs < 5 ? '' : `${text.slice(0, signs - 1).trimEnd()}…`;
}

function viewAround(map: Board, around: PinOnMap, room: Size | null): View {
  const width = Math.min(map.width, Math.max(map.pitchMm * 11, map.width * 0.6)) + 2 * edge;
  const shape = room && room.width > 0 && room.height > 0 ? room.height / room.width : 1.1;
  const height = Math.min(map.height + 2 * edge, width * shape);
  const from = (middle: number, size: number, of: number) =>
    Math.max(-edge, Math.min(middle - size / 2, of - size + edge));
  return { x: from(around.x, width, map.width), y: from(around.y, height, map.height), width, height };
}
