import { type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';

interface Point {
  x: number;
  y: number;
}

interface ViewOf {
  /** Of what is looked at, in its own unit. */
  width: number;
  height: number;
  /** Room around it. */
  edge?: number;
  /** What takes the wheel. */
  target: RefObject<Element | null>;
  /** A place on the screen in the unit of what is looked at. */
  placeOf: (clientX: number, clientY: number) => Point;
}

export const closest = 12;
const clickSlop = 5;

/** Looking closer at a drawing or a picture, and moving it: wheel, two fingers, drag. Its middle and how much closer it is. */
export function useView({ width, height, edge = 0, target, placeOf }: ViewOf) {
  const [view, setView] = useState({ scale: 1, x: width / 2, y: height / 2 });
  const fingers = useRef(new Map<number, Point>());
  const moved = useRef(0);
  const [full, fullHeight] = [width + 2 * edge, height + 2 * edge];
  const within = (next: { scale: number; x: number; y: number }) => {
    const scale = Math.min(closest, Math.max(1, next.scale));
    const [halfWidth, halfHeight] = [full / scale / 2, fullHeight / scale / 2];
    return {
      scale,
      x: Math.min(width + edge - halfWidth, Math.max(halfWidth - edge, next.x)),
      y: Math.min(height + edge - halfHeight, Math.max(halfHeight - edge, next.y)),
    };
  };
  const zoom = (by: number, about?: Point) =>
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
    const drawing = target.current;
    // A passive listener, as React's are, could not keep the page from scrolling.
    const onWheel = (event: Event) => {
      const wheel = event as WheelEvent;
      if (wheel.ctrlKey || wheel.metaKey || view.scale > 1 || wheel.deltaY < 0) {
        event.preventDefault();
        zoom(Math.exp(-wheel.deltaY / 400), placeOf(wheel.clientX, wheel.clientY));
      }
    };
    drawing?.addEventListener('wheel', onWheel, { passive: false });
    return () => drawing?.removeEventListener('wheel', onWheel);
  });
  const onPointerMove = (event: PointerEvent) => {
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
  return {
    view,
    zoom,
    /** Whether the finger went along, so that lifting it is no tap. */
    wasMoved: () => moved.current > clickSlop,
    handlers: {
      onPointerDown: (event: PointerEvent) => {
        moved.current = 0;
        fingers.current.set(event.pointerId, { x: event.clientX, y: event.clientY });
      },
      onPointerMove,
      onPointerUp: lift,
      onPointerCancel: lift,
      onPointerLeave: lift,
    },
  };
}
