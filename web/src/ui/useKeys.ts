import { useLayoutEffect, useRef } from 'react';

/**
 * Listens to keys wherever the focus is, from the moment the view is drawn. An ordinary effect runs
 * some time later, and a key pressed by then would be lost.
 */
export function useKeys(handle: (event: KeyboardEvent) => void): void {
  const latest = useRef(handle);
  useLayoutEffect(() => {
    latest.current = handle;
  });
  useLayoutEffect(() => {
    const listen = (event: KeyboardEvent) => latest.current(event);
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, []);
}
