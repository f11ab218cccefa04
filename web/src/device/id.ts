import { v4 as uuid } from 'uuid';

const DEVICE = 'nuvek.device';

/** This device, by a number that it gave itself. */
export function device(): string {
  const known = localStorage.getItem(DEVICE);
  if (known) return known;
  const fresh = uuid();
  localStorage.setItem(DEVICE, fresh);
  return fresh;
}
