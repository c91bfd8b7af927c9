import { createTheme, type Theme } from '@mui/material/styles';

export type Light = 'day' | 'night';

const INKS = {
  day: {
    ground: '#e7e5de',
    sheet: '#f4f2ec',
    ink: '#1f2529',
    soft: '#4a545b',
    line: '#c9c4b8',
    accent: '#2f5796',
    on: '#fbfaf6',
  },
  night: {
    ground: '#12171a',
    sheet: '#1a2125',
    ink: '#ece8dd',
    soft: '#b0bac0',
    line: '#364148',
    accent: '#9dbde4',
    on: '#10171c',
  },
} as const;

/** MUI dressed in the same steel as steel.css: square-shouldered, glove-sized, no shadows. */
export function steelTheme(light: Light): Theme {
  const c = INKS[light];
  return createTheme({
    palette: {
      mode: light === 'day' ? 'light' : 'dark',
      primary: { main: c.accent, contrastText: c.on },
      text: { primary: c.ink, secondary: c.soft },
      background: { default: c.ground, paper: c.sheet },
      divider: c.line,
    },
    shape: { borderRadius: 4 },
    typography: {
      fontFamily: "'Archivo Variable', Archivo, sans-serif",
      fontSize: 15,
      button: { textTransform: 'none', fontWeight: 620, fontSize: 17 },
    },
    components: {
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiButton: {
        defaultProps: { disableElevation: true },
        styleOverrides: {
          root: { minHeight: 52, borderRadius: 5, paddingInline: 18 },
          contained: {
            '&:not(.Mui-disabled)': {
              background: c.ink,
              color: c.ground,
              '&:hover': { background: c.ink, opacity: 0.92 },
            },
          },
          outlined: { borderColor: c.ink, color: c.ink, borderWidth: 1.5 },
          text: { color: c.ink },
        },
      },
      MuiOutlinedInput: {
        styleOverrides: {
          root: { minHeight: 52, background: c.sheet },
          notchedOutline: { borderColor: c.soft },
        },
      },
      MuiDialog: {
        styleOverrides: { paper: { backgroundImage: 'none', border: `1px solid ${c.line}` } },
      },
      MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
      MuiMenuItem: { styleOverrides: { root: { minHeight: 48 } } },
      MuiToggleButton: {
        styleOverrides: {
          root: {
            minHeight: 52,
            textTransform: 'none',
            fontSize: 16,
            fontWeight: 560,
            color: c.ink,
            borderColor: c.soft,
            lineHeight: 1.2,
            '&.Mui-selected, &.Mui-selected:hover': { background: c.ink, color: c.ground },
          },
        },
      },
    },
  });
}
