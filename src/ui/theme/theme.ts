import { createTheme, type CSSVariablesResolver, type MantineColorsTuple } from "@mantine/core";

const sumac: MantineColorsTuple = ["#fbeef3", "#f3d9e3", "#e5b0c5", "#d785a5", "#c95f88", "#b34571", "#9d305c", "#8e2449", "#7a1c3d", "#651430"];
const pool: MantineColorsTuple = ["#e8f5f6", "#d3e9ea", "#a6d3d6", "#76bcc1", "#4fa8ae", "#3399a0", "#1e7f86", "#1a6f75", "#125f65", "#045055"];

export const theme = createTheme({
  primaryColor: "sumac",
  primaryShade: { light: 7, dark: 5 },
  colors: { sumac, pool },
  fontFamily: '"Figtree Variable", system-ui, sans-serif',
  fontFamilyMonospace: "ui-monospace, monospace",
  defaultRadius: "md",
  fontSizes: { xs: "11px", sm: "12px", md: "13px", lg: "14px", xl: "17px" },
  headings: { fontFamily: '"Figtree Variable", system-ui, sans-serif', fontWeight: "650" },
  cursorType: "pointer",
  respectReducedMotion: true,
});

/** The cutting table's own tokens, light and dark, beside Mantine's. */
export const tokens: CSSVariablesResolver = () => ({
  variables: {},
  light: {
    "--paper": "#fbf8f1",
    "--table": "#f1ece0",
    "--card": "#fffdf8",
    "--ink": "#22252e",
    "--quiet": "#6b6a66",
    "--line": "#ddd5c4",
    "--sumac": "#8e2449",
    "--sumac-soft": "#f6e6ec",
    "--indigo": "#2e3a87",
    "--good": "#4b6d41",
    "--warn": "#8f5e0b",
    "--bad": "#b5401e",
    "--pool": "#1e7f86",
    "--mantine-color-body": "#fbf8f1",
    "--mantine-color-text": "#22252e",
    "--mantine-color-dimmed": "#6b6a66",
    "--mantine-color-default-border": "#ddd5c4",
  },
  dark: {
    "--paper": "#211f1d",
    "--table": "#191816",
    "--card": "#292624",
    "--ink": "#f0eade",
    "--quiet": "#aba496",
    "--line": "#443f39",
    "--sumac": "#e58cab",
    "--sumac-soft": "#4a2836",
    "--indigo": "#a4aef0",
    "--good": "#9cc48c",
    "--warn": "#e3b25a",
    "--bad": "#f08f6c",
    "--pool": "#6ec6cc",
    "--mantine-color-body": "#211f1d",
    "--mantine-color-text": "#f0eade",
    "--mantine-color-dimmed": "#aba496",
    "--mantine-color-default-border": "#443f39",
  },
});
