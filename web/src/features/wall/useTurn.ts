import { useEffect, useState } from 'react';
import { useKeys } from '../../ui/useKeys';

export interface Turn {
  /** The page that is shown. */
  page: number;
  /** It stays until somebody lets it go. */
  held: boolean;
  go: (by: number) => void;
  hold: () => void;
}

/** Shows one page after another, so many seconds each. Arrow keys turn them; the space bar holds one. */
export function useTurn(pages: number, seconds: number): Turn {
  const [at, setAt] = useState(0);
  const [held, setHeld] = useState(false);
  const page = pages === 0 ? 0 : ((at % pages) + pages) % pages;
  useEffect(() => {
    if (held || pages < 2) return;
    const timer = window.setTimeout(() => setAt(at + 1), seconds * 1000);
    return () => window.clearTimeout(timer);
  }, [at, held, pages, seconds]);
  const go = (by: number) => setAt((before) => before + by);
  const hold = () => setHeld((before) => !before);
  useKeys((event) => {
    if (event.key === 'ArrowRight') go(1);
    else if (event.key === 'ArrowLeft') go(-1);
    else if (event.key === ' ') hold();
    else return;
    event.preventDefault();
  });
  return { page, held, go, hold };
}
