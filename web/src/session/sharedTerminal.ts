import { useEffect, useEffectEvent, useSyncExternalStore } from 'react';

const KEY = 'nuvek.shared';
const CHANGED = 'nuvek:shared';

/** Minutes after which this device locks; nothing where it is one person's own. */
function minutes(): number | null {
  const kept = Number(localStorage.getItem(KEY));
  return kept > 0 ? kept : null;
}

export function shareTerminal(after: number | null) {
  if (after === null) localStorage.removeItem(KEY);
  else localStorage.setItem(KEY, String(after));
  window.dispatchEvent(new Event(CHANGED));
}

function subscribe(listener: () => void): () => void {
  window.addEventListener(CHANGED, listener);
  return () => window.removeEventListener(CHANGED, listener);
}

export function useSharedTerminal(): number | null {
  return useSyncExternalStore(subscribe, minutes);
}

const ACTS = ['pointerdown', 'keydown', 'wheel', 'touchstart'] as const;

/** Calls `idle` when nobody has touched the device for so many minutes. */
export function useIdle(after: number | null, idle: () => void) {
  // The wait does not begin anew when the page changes by itself.
  const left = useEffectEvent(idle);
  useEffect(() => {
    if (after === null) return;
    let timer = 0;
    const again = () => {
      window.clearTimeout(timer);
      timer = window.setTimeout(() => {
        left();
        // It is asked again, should the device not lock this time.
        again();
      }, after * 60_000);
    };
    again();
    ACTS.forEach((act) => window.addEventListener(act, again, { passive: true }));
    return () => {
      window.clearTimeout(timer);
      ACTS.forEach((act) => window.removeEventListener(act, again));
    };
  }, [after]);
}
