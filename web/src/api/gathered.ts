/**
 * Questions that are asked again because of what others did: at once, and while more of it comes, once in a while. Devices
 * can send hundreds of samples a second; to ask for every list with each of them would leave a screen no time to draw any,
 * and the server none to answer.
 */

import { hashKey, type QueryClient } from '@tanstack/react-query';
import { askAgain } from './again';
import type { Key } from './queries';

/** Between one time and the next at first, and at most: what tells of one thing is looked at, lists change with every thing. */
const OF_ONE = { first: 50, most: 50 };
const OF_ALL = { first: 250, most: 4000 };

interface Asked {
  at: number;
  /** How long the next time waits. */
  pause: number;
  next?: ReturnType<typeof setTimeout>;
}

export class Gathered {
  private readonly asked = new Map<string, Asked>();

  constructor(private readonly client: QueryClient) {}

  /** Asks again for all that begins with the key. */
  ask(queryKey: Key): void {
    const name = hashKey(queryKey);
    const last = this.asked.get(name);
    if (last?.next !== undefined) return;
    const { first, most } = typeof queryKey[1] === 'string' ? OF_ONE : OF_ALL;
    const now = performance.now();
    const left = last ? last.at + last.pause - now : 0;
    if (!last || left <= 0) {
      this.asked.set(name, { at: now, pause: first });
      void askAgain(this.client, queryKey);
      return;
    }
    last.next = setTimeout(() => {
      this.asked.set(name, { at: performance.now(), pause: Math.min(2 * last.pause, most) });
      void askAgain(this.client, queryKey);
    }, left);
  }

  /** Asks for nothing any more. */
  stop(): void {
    this.asked.forEach(({ next }) => clearTimeout(next));
    this.asked.clear();
  }
}
