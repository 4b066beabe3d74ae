import { type PointerEvent, useRef, useState } from 'react';
import { type BoardDrawing, type ElementOnMap } from '../api/generated';
import { onPress } from '../ui/pressed';
import { elementWords } from './ElementLeaf';
import { ElementShape } from './ElementShape';
import { type Facing } from './facing';

export const sides = ['component', 'solder', 'wire', 'mating'] as const;

/** A step of the hand on the board as faced, back to the component side. */
export function onComponentSide({ turns, side }: Facing, right: number, down: number): [number, number] {
  const [x, y] = (
    [
      [right, down],
      [down, -right],
      [-right, -down],
      [-down, right],
    ] as [number, number][]
  )[turns] ?? [right, down];
  return [side === 'solder' || side === 'mating' ? -x : x, y];
}

const catches = 1;
const halfMm = (value: number) => Math.round(value * 2) / 2;

/** The nearest step at which an edge or middle falls on one of another element; else the nearest half millimetre. */
function snapped(own: [number, number, number], others: number[], step: number): { step: number; at: number | null } {
  let best = { off: catches, step: halfMm(step), at: null as number | null };
  for (const mine of own) {
    for (const theirs of others) {
      const off = Math.abs(mine + step - theirs);
      if (off < best.off) {
        best = { off, step: theirs - mine, at: theirs };
      }
    }
  }
  return best;
}

interface BoardProps {
  drawing: BoardDrawing;
  chosen: string | null;
  choose: (id: string | null) => void;
  drop: (id: string, right: number, down: number) => void;
}

const edge = 4;

export function Board({ drawing, chosen, choose, drop }: BoardProps) {
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ id: string; fromX: number; fromY: number; right: number; down: number } | null>(
    null,
  );
  const letter = drawing.width / 45;
  const radiusOf = (e: ElementOnMap) => Math.min(letter * 0.45, e.pitchMm * 0.36);
  const at = (event: PointerEvent) => {
    const matrix = svg.current?.getScreenCTM();
    return new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix?.inverse());
  };
  const lines = (of: ElementOnMap): [[number, number, number], [number, number, number]] => [
    [of.x, of.x + of.width / 2, of.x + of.width],
    [of.y, of.y + of.height / 2, of.y + of.height],
  ];
  const dragged = drag && drawing.elements.find((e) => e.id === drag.id);
  const others = drawing.elements.filter((e) => e.id !== drag?.id).map(lines);
  const right =
    drag && dragged
      ? snapped(
          lines(dragged)[0],
          others.flatMap(([x]) => x),
          drag.right,
        )
      : { step: 0, at: null };
  const down =
    drag && dragged
      ? snapped(
          lines(dragged)[1],
          others.flatMap(([, y]) => y),
          drag.down,
        )
      : { step: 0, at: null };
  const isMoved = drag !== null && Math.hypot(drag.right, drag.down) > 0.4;
  return (
    <svg
      ref={svg}
      viewBox={`${-edge} ${-edge} ${drawing.width + 2 * edge} ${drawing.height + 2 * edge}`}
      className="mt-2 max-h-[calc(100dvh-230px)] w-full touch-none"
      role="group"
      aria-label={`The board, ${drawing.facingWords}`}
      data-testid="layout"
      onPointerMove={(event) => {
        if (drag) {
          const now = at(event);
          setDrag({ ...drag, right: now.x - drag.fromX, down: now.y - drag.fromY });
        }
      }}
      onPointerUp={() => {
        if (drag && isMoved) {
          drop(drag.id, right.step, down.step);
        }
        setDrag(null);
      }}
      onPointerLeave={() => setDrag(null)}
    >
      <rect
        width={drawing.width}
        height={drawing.height}
        className="fill-sheet stroke-ink"
        strokeWidth={letter / 6}
        onPointerDown={() => choose(null)}
      />
      {drawing.elements.map((e) => (
        <g
          key={e.id}
          role="button"
          tabIndex={0}
          aria-pressed={e.id === chosen}
          aria-label={[e.designator, elementWords[e.kind], e.purpose].filter(Boolean).join(', ')}
          className="cursor-move"
          transform={e.id === drag?.id && isMoved ? `translate(${right.step} ${down.step})` : undefined}
          onFocus={() => choose(e.id)}
          onKeyDown={onPress(() => choose(e.id))}
          onPointerDown={(event) => {
            const from = at(event);
            choose(e.id);
            setDrag({ id: e.id, fromX: from.x, fromY: from.y, right: 0, down: 0 });
          }}
        >
          <ElementShape element={e} line={letter / 9} chosen={e.id === chosen} />
          <text
            x={e.x}
            y={e.y < letter * 1.6 ? e.y + e.height + letter : e.y - letter / 3}
            fontSize={letter}
            className="fill-ink font-bold"
          >
            {e.designator}
          </text>
          {drawing.pins
            .filter((p) => p.elementId === e.id)
            .map((p) =>
              p.isFirst ? (
                <rect
                  key={p.id}
                  x={p.x - radiusOf(e)}
                  y={p.y - radiusOf(e)}
                  width={2 * radiusOf(e)}
                  height={2 * radiusOf(e)}
                  className="fill-paper stroke-ink-2"
                  strokeWidth={letter / 9}
                />
              ) : (
                <circle
                  key={p.id}
                  cx={p.x}
                  cy={p.y}
                  r={radiusOf(e)}
                  className="fill-paper stroke-ink-2"
                  strokeWidth={letter / 9}
                />
              ),
            )}
        </g>
      ))}
      {isMoved && right.at !== null && (
        <path d={`M${right.at},0 V${drawing.height}`} className="stroke-rust" strokeWidth={letter / 10} />
      )}
      {isMoved && down.at !== null && (
        <path d={`M0,${down.at} H${drawing.width}`} className="stroke-rust" strokeWidth={letter / 10} />
      )}
    </svg>
  );
}
