import { createTheme, type Theme } from '@mui/material/styles';

/** The colours of the house, for both themes; the same tokens are CSS variables for the sheet and its margins. */
export const tokens = {
  light: {
    mist: '#E7EBEC',
    sheet: '#FFFFFF',
    ink: '#1D1B22',
    graphite: '#5D5A66',
    faint: '#6F6C78',
    hairline: '#CFD6D8',
    plum: '#5B2546',
    plumTint: '#F1E7ED',
    tea: '#83500F',
    teaTint: '#F3E8D8',
    sea: '#1F5C7A',
    seaTint: '#DDEBF1',
    moss: '#4B5D16',
    mossTint: '#E8EDD6',
    sage: '#DCEADF',
    sky: '#DCE8F4',
    clay: '#F4E1D8',
  },
  dark: {
    mist: '#141518',
    sheet: '#1E1F24',
    ink: '#ECE9E4',
    graphite: '#AAA7B2',
    faint: '#918E9B',
    hairline: '#34363D',
    plum: '#DBA4C6',
    plumTint: '#33222C',
    tea: '#E2B274',
    teaTint: '#33291C',
    sea: '#8CC4DF',
    seaTint: '#1B2D37',
    moss: '#B6C67A',
    mossTint: '#272D18',
    sage: '#24382B',
    sky: '#20344A',
    clay: '#47301F',
  },
} as const;
export type Mode = keyof typeof tokens;

export const interfaceFont = "'Commissioner Variable', system-ui, sans-serif";
export const textFont = "'Literata Variable', Georgia, serif";

/** No movement, for people who have asked their system for little of it. */
const still = {
  duration: {
    shortest: 0,
    shorter: 0,
    short: 0,
    standard: 0,
    complex: 0,
    enteringScreen: 0,
    leavingScreen: 0,
  },
  create: () => 'none',
};

export function themeFor(mode: Mode, reducedMotion: boolean): Theme {
  const t = tokens[mode];
  const variables = Object.fromEntries(Object.entries(t).map(([name, value]) => [`--${name}`, value]));
  return createTheme({
    palette: {
      mode,
      primary: {
        main: t.plum,
        contrastText: mode === 'light' ? '#FFFFFF' : '#1E1F24',
        // Under the mouse: what is made of it for the light theme would be too dark for its words (WCAG 1.4.3).
        ...(mode === 'dark' && { dark: '#E8BFD8' }),
      },
      secondary: { main: t.tea },
      text: { primary: t.ink, secondary: t.graphite },
      background: { default: t.mist, paper: t.sheet },
      divider: t.hairline,
    },
    ...(reducedMotion && { transitions: still }),
    shape: { borderRadius: 3 },
    typography: {
      fontFamily: interfaceFont,
      fontSize: 13,
      body1: { fontSize: 14, lineHeight: 1.45 },
      body2: { fontSize: 13, lineHeight: 1.4 },
      button: { textTransform: 'none', fontWeight: 600, fontSize: 13 },
    },
    components: {
      MuiCssBaseline: { styleOverrides: { ':root': { ...variables, colorScheme: mode } } },
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiButton: {
        defaultProps: { disableElevation: true },
        styleOverrides: { root: { minWidth: 0, padding: '6px 13px' } },
      },
      MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
      MuiMenu: {
        styleOverrides: { paper: { border: `1px solid ${t.hairline}`, boxShadow: '0 6px 24px rgb(0 0 0 / 12%)' } },
      },
      MuiMenuItem: { styleOverrides: { root: { fontSize: 13, minHeight: 34 } } },
      MuiTooltip: {
        defaultProps: { enterDelay: 500, disableInteractive: true, describeChild: true },
        styleOverrides: { tooltip: { fontSize: 12, backgroundColor: t.ink, color: t.sheet, maxWidth: 300 } },
      },
    },
  });
}
