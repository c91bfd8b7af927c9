import { createTheme, type Theme } from '@mui/material/styles';

export type Light = 'day' | 'night';

const NO_STYLES = 'hsl(0, 0%, 50%)'; // a page without its styles is still a page

/** The colours of steel.css in one light, as values: MUI works out shades from them. */
function inks(light: Light) {
  const worn = document.createElement('i');
  worn.dataset['theme'] = light;
  document.head.append(worn);
  const style = getComputedStyle(worn);
  const ink = (name: string) => style.getPropertyValue(`--${name}`).trim() || NO_STYLES;
  const found = {
    ground: ink('ground'),
    sheet: ink('sheet'),
    ink: ink('ink'),
    soft: ink('soft'),
    line: ink('line'),
    accent: ink('accent'),
    on: ink('accent-ink'),
  };
  worn.remove();
  return found;
}

/** MUI dressed in the same steel as steel.css: square-shouldered, glove-sized, no shadows. */
export function steelTheme(light: Light): Theme {
  const c = inks(light);
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
      fontSize: 15, // of which MUI makes the sizes of its own
      button: { textTransform: 'none', fontWeight: 620, fontSize: 'var(--text-large)' },
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
            fontSize: 'var(--text-plain)',
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
