import { type RefObject, useLayoutEffect, useState } from 'react';

/** How wide a box is, in whole pixels; 0 before it is known. */
export function useWidth(box: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const node = box.current;
    if (!node) return;
    const watch = new ResizeObserver(([entry]) => setWidth(Math.floor(entry?.contentRect.width ?? 0)));
    watch.observe(node);
    return () => watch.disconnect();
  }, [box]);
  return width;
}
