import type { Address } from '../../ui/useAddress';
import { nested, nestedAs } from './address';

/** One of the addresses within an address, as an address of its own. */
export function useNested({ params, put }: Address, name: string, at: number): Address {
  const own = nested(params, name)[at] ?? new URLSearchParams();
  return {
    params: own,
    put: (changes, quietly) => {
      // From what the address says now: two changes at once may not undo one another.
      const now = new URLSearchParams(window.location.search);
      const all = nested(now, name);
      const next = new URLSearchParams(all[at] ?? '');
      for (const [key, value] of Object.entries(changes)) {
        if (value === null || value === '') next.delete(key);
        else next.set(key, value);
      }
      all[at] = next;
      put(nestedAs(now, name, all), quietly);
    },
  };
}
