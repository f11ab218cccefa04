import { ThemeProvider, useTheme } from '@mui/material';
import { type ReactNode, useMemo } from 'react';
import { makeTheme } from './theme';

/** What is entered on the floor is roomy whatever was chosen: gloves need targets of 48 pixels. */
export function Roomy({ children }: { children: ReactNode }) {
  const { mode } = useTheme().palette;
  const theme = useMemo(() => makeTheme(mode, 'roomy'), [mode]);
  return <ThemeProvider theme={theme}>{children}</ThemeProvider>;
}
