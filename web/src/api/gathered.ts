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

/** To send a dozen questions takes longer than to draw a point. */
const DRAWN_MS = 50;

interface Asked {
  at: number;
  /** How long the next time waits. */
  pause: number;
  next?: ReturnType<typeof setTimeout>;
}

export class Gathered {
  private readonly asked = new Map<string, Asked>();

  constructor(private readonly client: QueryClient) {}

  /** Asks again for all that begins with the key; `later` where something is drawn first. */
  ask(queryKey: Key, later = false): void {
    const name = hashKey(queryKey);
    const last = this.asked.get(name);
    if (last?.next !== undefined) return;
    const { first, most } = typeof queryKey[1] === 'string' ? OF_ONE : OF_ALL;
    const now = performance.now();
    const left = last ? last.at + last.pause - now : 0;
    const pause = last && left > 0 ? Math.min(2 * last.pause, most) : first;
    const ask = () => {
      this.asked.set(name, { at: performance.now(), pause });
      void askAgain(this.client, queryKey);
    };
    const wait = Math.max(left, later ? DRAWN_MS : 0);
    if (wait <= 0) ask();
    else this.asked.set(name, { at: now, pause: first, ...last, next: setTimeout(ask, wait) });
  }

  /** Asks for nothing any more. */
  stop(): void {
    this.asked.forEach(({ next }) => clearTimeout(next));
    this.asked.clear();
  }
}
