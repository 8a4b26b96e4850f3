import { createColorScheme, createTheme } from "@mui/material/styles";
import type { Tokens } from "./tokens";
import { contrast, dark, light } from "./tokens";

declare module "@mui/material/styles" {
  interface Palette {
    ak: Tokens;
  }
  interface PaletteOptions {
    ak?: Tokens;
  }
  interface ColorSchemeOverrides {
    contrast: true;
  }
}

function palette(t: Tokens) {
  return {
    ak: t,
    primary: { main: t.ink, contrastText: t.sheet },
    secondary: { main: t.program, contrastText: t.sheet },
    warning: { main: t.amber, contrastText: t.onAmber },
    success: { main: t.good },
    error: { main: t.bad },
    text: { primary: t.ink, secondary: t.ink2 },
    divider: t.line,
    background: { default: t.paper, paper: t.sheet },
  };
}

/** The tokens as an MUI theme; style sheets read them as `--ak-palette-ak-…`. */
export const theme = createTheme({
  cssVariables: { cssVarPrefix: "ak", colorSchemeSelector: "data-theme" },
  colorSchemes: {
    light: { palette: palette(light) },
    dark: { palette: palette(dark) },
    contrast: createColorScheme({ palette: { mode: "light", ...palette(contrast) } }),
  },
  shape: { borderRadius: 5 },
  typography: {
    fontFamily: 'InterVariable, Inter, "DejaVu Sans", sans-serif',
    fontSize: 13,
    button: { textTransform: "none", fontWeight: 600 },
  },
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: {
      defaultProps: { size: "small", disableElevation: true },
      styleOverrides: { root: { fontSize: "12.8px", lineHeight: 1.5 } },
    },
    MuiToggleButton: {
      styleOverrides: {
        root: { fontSize: "12.4px", padding: "3px 10px", lineHeight: 1.5, color: "var(--ak-palette-ak-ink2)" },
      },
    },
    MuiFormControlLabel: { styleOverrides: { label: { fontSize: "13.5px" } } },
    MuiTextField: { defaultProps: { size: "small" } },
    MuiSwitch: { defaultProps: { size: "small" } },
    MuiTooltip: { defaultProps: { enterDelay: 400 } },
  },
});
