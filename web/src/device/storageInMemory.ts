import { beforeEach, vi } from 'vitest';

/** Tests have no browser: what a page would keep on the device, fresh for each of them. */
export function storageInMemory(): Map<string, string> {
  const kept = new Map<string, string>();
  beforeEach(() => {
    kept.clear();
    vi.stubGlobal('localStorage', {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, value: string) => kept.set(key, value),
      removeItem: (key: string) => kept.delete(key),
    });
  });
  return kept;
}
