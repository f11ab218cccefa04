import { useMediaQuery } from '@mui/material';
import { useSyncExternalStore } from 'react';

/** How close things stand: compact at a desk, roomy where fingers touch. */
export type Density = 'compact' | 'roomy';

const KEY = 'nuvek.density';
const told = new Set<() => void>();

function subscribe(listener: () => void): () => void {
  told.add(listener);
  return () => told.delete(listener);
}

function kept(): Density | null {
  const value = localStorage.getItem(KEY);
  return value === 'compact' || value === 'roomy' ? value : null;
}

/** Keeps what a person chose on this device; nothing leaves it to the device. */
export function chooseDensity(density: Density | null) {
  if (density === null) localStorage.removeItem(KEY);
  else localStorage.setItem(KEY, density);
  told.forEach((listener) => listener());
}

/** What a person chose on this device. */
export const useChosenDensity = () => useSyncExternalStore(subscribe, kept);

/** The person's choice on this device, else what suits how it is pointed at. */
export function useDensity(): Density {
  const touched = useMediaQuery('(pointer: coarse)');
  return useChosenDensity() ?? (touched ? 'roomy' : 'compact');
}
