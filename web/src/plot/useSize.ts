import { type RefObject, useLayoutEffect, useState } from 'react';

/** How wide and high a box is, in whole pixels; 0 before it is known. */
export function useSize(box: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const node = box.current;
    if (!node) return;
    const watch = new ResizeObserver(([entry]) => {
      const width = Math.floor(entry?.contentRect.width ?? 0);
      const height = Math.floor(entry?.contentRect.height ?? 0);
      setSize((before) => (before.width === width && before.height === height ? before : { width, height }));
    });
    watch.observe(node);
    return () => watch.disconnect();
  }, [box]);
  return size;
}
