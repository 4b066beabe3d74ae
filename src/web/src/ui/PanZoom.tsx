import { type ReactNode, useRef } from 'react';
import { Nearer } from './Nearer';
import { useView } from './useView';

interface PanZoomProps {
  /** Of what is drawn, in its own unit. */
  width: number;
  height: number;
  /** Room around it. */
  edge?: number;
  label: string;
  testId: string;
  className?: string;
  /** Pressed or tapped beside all that answers by itself; in the unit of what is drawn. */
  onTap?: ((x: number, y: number) => void) | undefined;
  children: ReactNode;
}

/** A drawing that is moved and looked at closer: wheel, two fingers, drag, or keys. What is drawn is not drawn anew for that. */
export function PanZoom({ width, height, edge = 0, label, testId, className, onTap, children }: PanZoomProps) {
  const svg = useRef<SVGSVGElement>(null);
  const placeOf = (clientX: number, clientY: number) => {
    const matrix = svg.current?.getScreenCTM();
    const at = matrix
      ? new DOMPoint(clientX, clientY).matrixTransform(matrix.inverse())
      : new DOMPoint(width / 2, height / 2);
    return { x: at.x, y: at.y };
  };
  const { view, zoom, wasMoved, handlers } = useView({ width, height, edge, target: svg, placeOf });
  const [seen, seenHeight] = [(width + 2 * edge) / view.scale, (height + 2 * edge) / view.scale];
  return (
    <div>
      {/* oxlint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- moved and pinched like any picture; what is in it has keys of its own */}
      <svg
        ref={svg}
        viewBox={`${view.x - seen / 2} ${view.y - seenHeight / 2} ${seen} ${seenHeight}`}
        className={`${className ?? ''} ${view.scale > 1 ? 'touch-none' : 'touch-pan-y'} ${onTap ? 'cursor-crosshair' : ''}`}
        role="group"
        aria-label={label}
        data-testid={testId}
        {...handlers}
        onClickCapture={(event) => {
          if (wasMoved() && event.detail > 0) {
            event.stopPropagation();
          }
        }}
        onClick={(event) => {
          // What answers by itself, such as a pin, is no bare place.
          if (onTap && event.detail > 0 && !(event.target as Element).closest('[role=button]')) {
            const at = placeOf(event.clientX, event.clientY);
            onTap(at.x, at.y);
          }
        }}
        onKeyDown={(event) => {
          const by = { '+': 1.4, '-': 1 / 1.4, '0': 0.001 }[event.key];
          if (by && !event.ctrlKey && !event.altKey) {
            event.preventDefault();
            zoom(by);
          }
        }}
      >
        {children}
      </svg>
      <Nearer scale={view.scale} zoom={zoom} />
    </div>
  );
}
