import type { Figures } from '../../api/client';

/** Figures as the server takes them, with nothing where nothing is given. */
export function figuresOf(given: Partial<Figures>): Figures {
  const none = { center: null, sigma: null, sigma_between: null, mean_n: null, shape: null, scale: null };
  return { ...none, lower: null, upper: null, ...given };
}
