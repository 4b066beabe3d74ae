import { type RefObject, useLayoutEffect, useState } from 'react';

export interface Size {
  width: number;
  height: number;
}

/** The room that an element has, in pixels; null before it is laid out. */
export function useSize(element: RefObject<Element | null>): Size | null {
  const [size, setSize] = useState<Size | null>(null);
  useLayoutEffect(() => {
    const box = element.current;
    if (!box) {
      return;
    }
    const look = () => {
      const { width, height } = box.getBoundingClientRect();
      setSize((was) => (was?.width === width && was.height === height ? was : { width, height }));
    };
    look();
    const watch = new ResizeObserver(look);
    watch.observe(box);
    return () => watch.disconnect();
  }, [element]);
  return size;
}
