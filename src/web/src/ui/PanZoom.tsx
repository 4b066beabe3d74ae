import { type PointerEvent, type ReactNode, useEffect, useRef, useState } from 'react';
import { Key } from './Key';

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

const closest = 12;
const clickSlop = 5;

/** A drawing that is moved and looked at closer: wheel, two fingers, drag, or keys. What is drawn is not drawn anew for that. */
export function PanZoom({ width, height, edge = 0, label, testId, className, onTap, children }: PanZoomProps) {
  const [view, setView] = useState({ scale: 1, x: width / 2, y: height / 2 });
  const svg = useRef<SVGSVGElement>(null);
  const fingers = useRef(new Map<number, { x: number; y: number }>());
  const moved = useRef(0);
  const [full, fullHeight] = [width + 2 * edge, height + 2 * edge];
  const [seen, seenHeight] = [full / view.scale, fullHeight / view.scale];
  const within = (next: { scale: number; x: number; y: number }) => {
    const scale = Math.min(closest, Math.max(1, next.scale));
    const [halfWidth, halfHeight] = [full / scale / 2, fullHeight / scale / 2];
    return {
      scale,
      x: Math.min(width + edge - halfWidth, Math.max(halfWidth - edge, next.x)),
      y: Math.min(height + edge - halfHeight, Math.max(halfHeight - edge, next.y)),
    };
  };
  const placeOf = (clientX: number, clientY: number) => {
    const matrix = svg.current?.getScreenCTM();
    const at = matrix ? new DOMPoint(clientX, clientY).matrixTransform(matrix.inverse()) : new DOMPoint(view.x, view.y);
    return { x: at.x, y: at.y };
  };
  const zoom = (by: number, about?: { x: number; y: number }) =>
    setView((was) => {
      const scale = Math.min(closest, Math.max(1, was.scale * by));
      const at = about ?? { x: was.x, y: was.y };
      return within({
        scale,
        x: at.x + ((was.x - at.x) * was.scale) / scale,
        y: at.y + ((was.y - at.y) * was.scale) / scale,
      });
    });
  useEffect(() => {
    const drawing = svg.current;
    // A passive listener, as React's are, could not keep the page from scrolling.
    const onWheel = (event: WheelEvent) => {
      if (event.ctrlKey || event.metaKey || view.scale > 1 || event.deltaY < 0) {
        event.preventDefault();
        zoom(Math.exp(-event.deltaY / 400), placeOf(event.clientX, event.clientY));
      }
    };
    drawing?.addEventListener('wheel', onWheel, { passive: false });
    return () => drawing?.removeEventListener('wheel', onWheel);
  });
  const onMove = (event: PointerEvent) => {
    const was = fingers.current.get(event.pointerId);
    if (!was) {
      return;
    }
    const now = { x: event.clientX, y: event.clientY };
    moved.current += Math.hypot(now.x - was.x, now.y - was.y);
    const other = [...fingers.current].find(([id]) => id !== event.pointerId)?.[1];
    if (other) {
      const ratio = Math.hypot(now.x - other.x, now.y - other.y) / Math.hypot(was.x - other.x, was.y - other.y);
      zoom(ratio, placeOf((now.x + other.x) / 2, (now.y + other.y) / 2));
    } else if (view.scale > 1 && moved.current > clickSlop) {
      const [from, to] = [placeOf(was.x, was.y), placeOf(now.x, now.y)];
      setView((v) => within({ ...v, x: v.x - (to.x - from.x), y: v.y - (to.y - from.y) }));
    }
    fingers.current.set(event.pointerId, now);
  };
  const lift = (event: PointerEvent) => void fingers.current.delete(event.pointerId);
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
        onPointerDown={(event) => {
          moved.current = 0;
          fingers.current.set(event.pointerId, { x: event.clientX, y: event.clientY });
        }}
        onPointerMove={onMove}
        onPointerUp={lift}
        onPointerCancel={lift}
        onPointerLeave={lift}
        onClickCapture={(event) => {
          if (moved.current > clickSlop && event.detail > 0) {
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
      <p className="mt-1 flex items-center gap-2 text-[14px]">
        <button type="button" className="quiet px-2" onClick={() => zoom(1.4)} disabled={view.scale >= closest}>
          Closer <Key>+</Key>
        </button>
        <button type="button" className="quiet px-2" onClick={() => zoom(1 / 1.4)} disabled={view.scale <= 1}>
          Wider <Key>-</Key>
        </button>
        <button type="button" className="quiet px-2" onClick={() => zoom(0.001)} disabled={view.scale <= 1}>
          All of it <Key>0</Key>
        </button>
      </p>
    </div>
  );
}
