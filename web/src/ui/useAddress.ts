import { useMemo, useSyncExternalStore } from 'react';
import { useSearchParams } from 'react-router';

/** Names and what they shall be; nothing takes one away. */
export type Changes = Readonly<Record<string, string | null>>;

/** Takes all of them away. */
export const without = (names: readonly string[]): Changes => Object.fromEntries(names.map((name) => [name, null]));

export interface Address {
  params: URLSearchParams;
  /** Changes what the address says; `quietly` without a step to come back from. */
  put: (changes: Changes, quietly?: boolean) => void;
}

const listeners = new Set<() => void>();
const tell = () => listeners.forEach((listener) => listener());

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  window.addEventListener('popstate', listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener('popstate', listener);
  };
}

/**
 * What the address says, at once. The router writes the address at once, but shows it when it finds time; whoever
 * ticks a box, or goes on by an arrow key, may not wait for it, or the second step would start from where the first
 * one started.
 */
export function useAddress(): Address {
  const [, setParams] = useSearchParams();
  const said = useSyncExternalStore(subscribe, () => window.location.search);
  return {
    params: useMemo(() => new URLSearchParams(said), [said]),
    put: (changes, quietly = false) => {
      const before = new URLSearchParams(window.location.search);
      const next = new URLSearchParams(before);
      for (const [name, value] of Object.entries(changes)) {
        if (value === null || value === '') next.delete(name);
        else next.set(name, value);
      }
      if (next.toString() === before.toString()) return;
      setParams(next, { replace: quietly });
      tell();
    },
  };
}
