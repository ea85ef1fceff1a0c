import '@fontsource-variable/instrument-sans';
import '@fontsource-variable/spline-sans-mono';
import { createTheme } from '@mui/material/styles';

export const mono = '"Spline Sans Mono Variable", ui-monospace, monospace';
const words = '"Instrument Sans Variable", system-ui, sans-serif';

/** Colours of the drafting sheet that MUI has no name for. */
export interface Sheet {
  hair: string;
  strong: string;
  bar: string;
  flow: string;
  signal: string;
  good: string;
  doubt: string;
  gears: string[];
  split: Record<string, string>;
}

declare module '@mui/material/styles' {
  interface Palette {
    sheet: Sheet;
  }
  interface PaletteOptions {
    sheet: Sheet;
  }
}

const split = (dark: boolean) => ({
  air: dark ? '#7fa7c4' : '#33566e',
  rolling: dark ? '#5d86a3' : '#5a7f98',
  climb: dark ? '#4a6577' : '#8fa9b8',
  driveline: dark ? '#b59a62' : '#806a35',
  motor: dark ? '#cdb37c' : '#a58b4c',
  controller: dark ? '#e0cda3' : '#c9b684',
  low_voltage: dark ? '#9b87a8' : '#75608a',
  comfort: dark ? '#d08a6a' : '#b8673f',
  brakes: dark ? '#8b8f92' : '#8c8c86',
});

const light: Sheet = {
  hair: '#d9d4c6',
  strong: '#20303a',
  bar: '#3d5a6c',
  flow: '#e4e6e0',
  signal: '#b8400f',
  good: '#1d6b4f',
  doubt: '#7a5a00',
  gears: ['#20303a', '#2f6079', '#7a5a00', '#75608a', '#1d6b4f', '#8c4a2f'],
  split: split(false),
};

const dark: Sheet = {
  hair: '#35434c',
  strong: '#e9e5d8',
  bar: '#8fb0c4',
  flow: '#22303a',
  signal: '#ff9466',
  good: '#74c9a3',
  doubt: '#e2bd5c',
  gears: ['#e9e5d8', '#8fc1de', '#e2bd5c', '#c3a9d8', '#74c9a3', '#e7a184'],
  split: split(true),
};

/** Quiet paper and ink by day, deep slate by night; hairlines instead of boxes; one colour kept for what needs a decision. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-scheme' },
  colorSchemes: {
    light: {
      palette: {
        primary: { main: '#20303a' },
        secondary: { main: '#2f6079' },
        error: { main: light.signal },
        warning: { main: light.doubt },
        success: { main: light.good },
        background: { default: '#f7f5ee', paper: '#fdfcf8' },
        text: { primary: '#1d2930', secondary: '#56626a' },
        divider: light.hair,
        sheet: light,
      },
    },
    dark: {
      palette: {
        primary: { main: '#e9e5d8' },
        secondary: { main: '#8fc1de' },
        error: { main: dark.signal },
        warning: { main: dark.doubt },
        success: { main: dark.good },
        background: { default: '#151d23', paper: '#1b252c' },
        text: { primary: '#ece8dc', secondary: '#a9b4ba' },
        divider: dark.hair,
        sheet: dark,
      },
    },
  },
  shape: { borderRadius: 2 },
  typography: {
    fontFamily: words,
    fontSize: 13,
    h1: { fontSize: '1.25rem', fontWeight: 650, letterSpacing: '-0.01em' },
    h2: { fontSize: '1rem', fontWeight: 650 },
    h3: { fontSize: '0.875rem', fontWeight: 650 },
    body1: { fontSize: '0.875rem' },
    body2: { fontSize: '0.8125rem' },
    caption: { fontSize: '0.75rem' },
    button: { textTransform: 'none', fontWeight: 600 },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        body: { fontVariantNumeric: 'tabular-nums' },
        '.figures, .figures.MuiTypography-root, .figures.MuiTableCell-root, .figures.MuiInputBase-root': {
          fontFamily: mono,
          fontVariantNumeric: 'tabular-nums',
          letterSpacing: '-0.02em',
        },
        '.unseen': { position: 'absolute', width: 1, height: 1, overflow: 'hidden', clipPath: 'inset(50%)', margin: 0 },
        // Seen once it has the focus.
        '.skip': {
          position: 'absolute',
          left: 8,
          top: -100,
          zIndex: 1500,
          padding: 8,
          background: 'var(--mui-palette-background-paper)',
        },
        '.skip:focus': { top: 4 },
        '@media print': {
          // A sheet to take into the workshop: what stands in the stage with its claims, on as many pages as it takes.
          ':root, html, body': { colorScheme: 'light' },
          'header, nav, .skip, .MuiSnackbar-root, .MuiTooltip-popper, .unprinted, main .MuiButton-root, main .MuiIconButton-root':
            {
              display: 'none !important',
            },
          '.sheet, .sheet > div, main': {
            height: 'auto !important',
            display: 'block !important',
            overflow: 'visible !important',
          },
          'section[aria-label="Claims"], .claims': { flexWrap: 'wrap', overflow: 'visible !important' },
          'section, tr, li, figure': { breakInside: 'avoid' },
          '*': { transition: 'none !important' },
        },
        ':focus-visible': { outline: '2px solid var(--mui-palette-secondary-main)', outlineOffset: 1 },
      },
    },
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      // Without its ripple nothing else would show where the keyboard is.
      styleOverrides: {
        root: {
          '&.Mui-focusVisible': { outline: '2px solid var(--mui-palette-secondary-main)', outlineOffset: -2 },
        },
      },
    },
    MuiButton: { defaultProps: { size: 'small', disableElevation: true } },
    MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiTextField: { defaultProps: { size: 'small', variant: 'standard' } },
    MuiInputBase: { styleOverrides: { root: { fontSize: '0.875rem' } } },
    MuiInputLabel: { styleOverrides: { root: { fontSize: '0.875rem' } } },
    MuiTooltip: { defaultProps: { arrow: true, enterDelay: 300 } },
    MuiTableCell: { styleOverrides: { root: { borderColor: 'var(--mui-palette-divider)', paddingLeft: 0 } } },
    // Given back to screen readers as soon as it closes: one that is opened again while it fades away would otherwise keep the page from them.
    MuiDialog: {
      defaultProps: { closeAfterTransition: false },
      styleOverrides: { paper: { border: '1px solid var(--mui-palette-divider)' } },
    },
  },
});
