/** The look, in one place: colours for light and dark, type, and MUI's components dressed in them. */
import { createTheme } from "@mui/material/styles";

/** Colours on light ground. */
export const LIGHT = {
  paper: "#f7f4ec",
  sheet: "#fffdf8",
  line: "#d9d1bf",
  hair: "#e8e2d4",
  ink: "#22272b",
  soft: "#585e5c",
  steel: "#2b5c86",
  "steel-tint": "#d3e1ec",
  copper: "#9c5a1c",
  "copper-tint": "#f0dcc9",
  moss: "#3d6b47",
  "moss-tint": "#dfe9dc",
  madder: "#a3293d",
  "madder-tint": "#f5dcdc",
  ochre: "#7d5f0c",
  stone: "#6d695c",
  "stone-tint": "#ebe6d9",
} as const;

/** The same on dark ground. */
export const DARK: Record<keyof typeof LIGHT, string> = {
  paper: "#17191b",
  sheet: "#1d2022",
  line: "#3c4144",
  hair: "#2a2e30",
  ink: "#e8e3d7",
  soft: "#abafa7",
  steel: "#86b4dc",
  "steel-tint": "#22364a",
  copper: "#e09a62",
  "copper-tint": "#43301f",
  moss: "#8fc29a",
  "moss-tint": "#20342a",
  madder: "#ef8f9b",
  "madder-tint": "#44232a",
  ochre: "#d9b75a",
  stone: "#a09b8b",
  "stone-tint": "#2b2d2c",
};

/** Font families. */
export const FONTS = {
  ui: '"Atkinson Hyperlegible Next Variable", system-ui, sans-serif',
  mono: '"Atkinson Hyperlegible Mono Variable", ui-monospace, monospace',
};

const variables = (colours: Readonly<Record<string, string>>): string =>
  Object.entries(colours)
    .map(([name, colour]) => `--${name}:${colour}`)
    .join(";");

/** Custom properties for all styles; a chosen scheme wins over the system's. */
export function tokenStyles(): string {
  const fonts = `--ui:${FONTS.ui};--mono:${FONTS.mono}`;
  return [
    `:root{color-scheme:light;${fonts};${variables(LIGHT)}}`,
    `@media (prefers-color-scheme:dark){:root:not([data-scheme=light]){color-scheme:dark;${variables(DARK)}}}`,
    `:root[data-scheme=dark]{color-scheme:dark;${variables(DARK)}}`,
  ].join("\n");
}

const flat = { boxShadow: "none", backgroundImage: "none" };

/** MUI's components in our look. */
export const theme = createTheme({
  shape: { borderRadius: 2 },
  typography: { fontFamily: FONTS.ui, fontSize: 14, button: { textTransform: "none", fontWeight: 400 } },
  palette: { primary: { main: LIGHT.ink }, text: { primary: LIGHT.ink, secondary: LIGHT.soft } },
  transitions: { create: () => "none" },
  components: {
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: {
      defaultProps: { disableElevation: true, size: "small" },
      styleOverrides: {
        root: {
          color: "var(--ink)",
          border: "1px solid var(--line)",
          padding: "2px 10px",
          minWidth: 0,
          lineHeight: 1.6,
          whiteSpace: "nowrap",
          gap: 7,
          "&:hover": { background: "var(--stone-tint)" },
          "&.Mui-focusVisible": { outline: "2px solid var(--steel)", outlineOffset: 1 },
          "&.Mui-disabled": { color: "var(--stone)", borderColor: "var(--hair)" },
          "&.main": { background: "var(--ink)", color: "var(--paper)", borderColor: "var(--ink)" },
          "&.main.Mui-disabled": { background: "var(--stone-tint)", color: "var(--soft)", borderColor: "var(--line)" },
          "&.main:hover": { background: "var(--soft)" },
          "@media (forced-colors: active)": {
            "&.main, &.main:hover": { background: "ButtonFace", color: "ButtonText", borderColor: "Highlight" },
          },
        },
      },
    },
    MuiDialog: {
      styleOverrides: {
        paper: {
          ...flat,
          background: "var(--sheet)",
          color: "var(--ink)",
          border: "1px solid var(--line)",
          borderRadius: 2,
        },
      },
    },
    MuiSnackbarContent: {
      styleOverrides: {
        root: {
          ...flat,
          background: "var(--ink)",
          color: "var(--paper)",
          fontSize: 14,
          borderRadius: 2,
          "& .MuiButton-root": { color: "var(--paper)", borderColor: "var(--stone)", marginLeft: 8 },
          "& .MuiButton-root:hover": { color: "var(--ink)", background: "var(--paper)" },
        },
      },
    },
    MuiMenu: {
      styleOverrides: {
        paper: { ...flat, background: "var(--sheet)", color: "var(--ink)", border: "1px solid var(--line)" },
      },
    },
    MuiDialogTitle: { styleOverrides: { root: { fontSize: 17, fontWeight: 650, padding: "14px 18px 6px" } } },
    MuiDialogContent: { styleOverrides: { root: { padding: "4px 18px 12px" } } },
    MuiDialogActions: { styleOverrides: { root: { padding: "10px 18px 14px" } } },
    MuiInputBase: {
      styleOverrides: {
        root: {
          color: "var(--ink)",
          background: "var(--paper)",
          border: "1px solid var(--line)",
          padding: "0 8px",
          fontSize: 14,
        },
        input: {
          padding: "4px 0",
          height: "auto",
          "&.mono": { fontFamily: "var(--mono)", fontSize: 12.5 },
          "&::placeholder": { color: "var(--soft)", opacity: 1 },
        },
      },
    },
  },
});
