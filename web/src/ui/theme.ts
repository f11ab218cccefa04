import { createTheme, type Theme } from '@mui/material/styles';
import type { Density } from './density';

/** The colours a chart is drawn with; by weight and dash, only signals have a strong hue. */
export interface ChartInk {
  data: string;
  line: string;
  faint: string;
  tint: string;
  signal: string;
  onSignal: string;
  ground: string;
}

declare module '@mui/material/styles' {
  interface Theme {
    ink: ChartInk;
  }
  interface ThemeOptions {
    ink: ChartInk;
  }
  interface Palette {
    settled: string;
    rule: string;
  }
  interface PaletteOptions {
    settled: string;
    rule: string;
  }
}

const light = {
  ground: '#efebe2',
  sheet: '#faf8f3',
  ink: '#18202e',
  soft: '#535a66',
  rule: '#d3ccbe',
  accent: '#0c5a5c',
  onAccent: '#ffffff',
  signal: '#b9361a',
  onSignal: '#ffffff',
  caution: '#7d5300',
  settled: '#35603f',
};
const dark = {
  ground: '#151b23',
  sheet: '#1d2530',
  ink: '#e8e4da',
  soft: '#a9b0ba',
  rule: '#38434f',
  accent: '#6cc5bd',
  onAccent: '#0d2224',
  signal: '#ff8565',
  onSignal: '#2a0d05',
  caution: '#dcae53',
  settled: '#93c49b',
};

/** How close things stand: the unit of distance, and how high what is pointed at is, in pixels. */
const DENSITIES = {
  compact: { unit: 7, target: 36, inset: 14, air: 4, field: 'small' },
  roomy: { unit: 8, target: 48, inset: 18, air: 6, field: 'medium' },
} as const;

/** Our own look: paper and ink, one rule-line weight, small corners, no shadows. */
export function makeTheme(mode: 'light' | 'dark', density: Density = 'roomy'): Theme {
  const c = mode === 'light' ? light : dark;
  const { unit, target, inset, air, field } = DENSITIES[density];
  return createTheme({
    spacing: unit,
    palette: {
      mode,
      background: { default: c.ground, paper: c.sheet },
      text: { primary: c.ink, secondary: c.soft },
      primary: { main: c.accent, contrastText: c.onAccent },
      error: { main: c.signal, contrastText: c.onSignal },
      warning: { main: c.caution },
      success: { main: c.settled },
      divider: c.rule,
      settled: c.settled,
      rule: c.rule,
    },
    ink: {
      data: c.ink,
      line: c.soft,
      faint: c.rule,
      tint: c.ink,
      signal: c.signal,
      onSignal: c.onSignal,
      ground: c.sheet,
    },
    shape: { borderRadius: 3 },
    shadows: Array(25).fill('none') as Theme['shadows'],
    typography: {
      fontFamily: '"Source Sans 3 Variable", "Source Sans 3", sans-serif',
      fontSize: 15,
      h1: { fontSize: '1.55rem', fontWeight: 600, letterSpacing: '-0.01em' },
      h2: { fontSize: '1.12rem', fontWeight: 600 },
      h3: { fontSize: '1rem', fontWeight: 600 },
      button: { textTransform: 'none', fontWeight: 600, fontSize: '1rem' },
    },
    components: {
      MuiCssBaseline: {
        styleOverrides: {
          body: { fontVariantNumeric: 'tabular-nums', fontFeatureSettings: '"tnum"' },
          // Paper is light, whatever the screen is.
          '@media print': {
            'body, body *': { color: '#000 !important' },
            body: { backgroundColor: '#fff !important' },
            '.on-screen': { display: 'none !important' },
          },
          // Whoever asks their device for less motion gets none.
          '@media (prefers-reduced-motion: reduce)': {
            '*, *::before, *::after': { animation: 'none !important', transition: 'none !important' },
          },
          ':focus-visible': { outline: `3px solid ${c.accent}`, outlineOffset: 2 },
        },
      },
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiButton: {
        defaultProps: { disableElevation: true },
        styleOverrides: { root: { minHeight: target, paddingInline: inset, paddingBlock: air, borderWidth: 1 } },
      },
      MuiToggleButton: {
        styleOverrides: {
          root: {
            color: c.soft,
            textTransform: 'none',
            minHeight: target,
            paddingInline: inset - 2,
            '&.Mui-selected': { color: c.ink },
          },
        },
      },
      MuiRadio: {
        styleOverrides: { root: { '&.Mui-focusVisible': { outline: `3px solid ${c.accent}`, outlineOffset: -4 } } },
      },
      MuiPaper: { styleOverrides: { root: { backgroundImage: 'none', border: `1px solid ${c.rule}` } } },
      MuiTextField: { defaultProps: { size: field, fullWidth: true } },
      MuiMenuItem: { styleOverrides: { root: { minHeight: target } } },
      MuiOutlinedInput: { styleOverrides: { root: { backgroundColor: c.sheet, minHeight: target } } },
      // In the middle of a small field, as high as that is.
      MuiInputLabel: {
        styleOverrides: {
          root: {
            '&.MuiInputLabel-sizeSmall:not(.MuiInputLabel-shrink)': {
              transform: `translate(14px, ${(Math.max(target, 40) - 22) / 2}px) scale(1)`,
            },
          },
        },
      },
    },
  });
}
