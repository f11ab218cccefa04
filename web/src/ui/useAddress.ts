import { useEffect, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';

/** Names and what they shall be; nothing takes one away. */
export type Changes = Readonly<Record<string, string | null>>;

export interface Address {
  params: URLSearchParams;
  /** Changes what the address says; `quietly` without a step to come back from. */
  put: (changes: Changes, quietly?: boolean) => void;
}

interface Held {
  said: string;
  now: string;
  /** On their way to the router, in order. */
  ours: readonly string[];
}

/**
 * What the address says, at once. The router changes the address when it finds time; whoever ticks a box, or goes
 * on by an arrow key, may not wait for it, or the second step would start from where the first one started.
 */
export function useAddress(): Address {
  const [params, setParams] = useSearchParams();
  const said = params.toString();
  // What the router has not come to yet is ours; anything else it says is back, forward, or a link to the same page.
  const [held, hold] = useState<Held>({ said, now: said, ours: [] });
  if (held.said !== said) {
    const known = held.ours.indexOf(said);
    hold(known === -1 ? { said, now: said, ours: [] } : { ...held, said, ours: held.ours.slice(known + 1) });
  }
  const latest = useRef(held.now);
  useEffect(() => {
    latest.current = held.now;
  }, [held.now]);
  return {
    params: new URLSearchParams(held.now),
    put: (changes, quietly = false) => {
      const next = new URLSearchParams(latest.current);
      for (const [name, value] of Object.entries(changes)) {
        if (value === null || value === '') next.delete(name);
        else next.set(name, value);
      }
      const now = next.toString();
      if (now === latest.current) return;
      latest.current = now;
      hold((before) => ({ ...before, now, ours: [...before.ours, now] }));
      setParams(next, { replace: quietly });
    },
  };
}
