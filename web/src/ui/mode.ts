import { useMediaQuery } from '@mui/material';
import { useState } from 'react';

export type Mode = 'light' | 'dark';

const KEY = 'nuvek.mode';

function kept(): Mode | null {
  const value = localStorage.getItem(KEY);
  return value === 'light' || value === 'dark' ? value : null;
}

/** The person's choice on this device, else what the device asks for. */
export function useMode(): [Mode, () => void] {
  const asked: Mode = useMediaQuery('(prefers-color-scheme: dark)') ? 'dark' : 'light';
  const [chosen, setChosen] = useState<Mode | null>(kept);
  // Paper is light, whatever the screen is.
  const printed = useMediaQuery('print');
  const mode = printed ? 'light' : (chosen ?? asked);
  return [
    mode,
    () => {
      const next = mode === 'dark' ? 'light' : 'dark';
      localStorage.setItem(KEY, next);
      setChosen(next);
    },
  ];
}
