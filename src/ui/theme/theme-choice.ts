import {
  isMantineColorScheme,
  type MantineColorScheme,
  type MantineColorSchemeManager,
  useComputedColorScheme,
} from "@mantine/core";

/** Where the browser keeps it. */
export const THEME_KEY = "tavlin-theme";
let apply: (theme: MantineColorScheme) => void = () => {};

const stored = (): string | null => {
  try {
    return localStorage.getItem(THEME_KEY);
  } catch {
    return null;
  }
};

function keep(theme: MantineColorScheme): void {
  try {
    localStorage.setItem(THEME_KEY, theme);
  } catch {
    // A browser that keeps nothing shows it until the page is left.
  }
}

/** Keeps the theme in this browser, and lets a key, the palette or the switch change it. */
export const themeManager: MantineColorSchemeManager = {
  get(otherwise) {
    const theme = stored();
    return isMantineColorScheme(theme) ? theme : otherwise;
  },
  set: keep,
  subscribe(update) {
    apply = update;
  },
  unsubscribe() {
    apply = () => {};
  },
  clear() {
    try {
      localStorage.removeItem(THEME_KEY);
    } catch {
      // There is nothing to remove.
    }
  },
};

/** The light table by night, and the other way round. */
export function toggleTheme(): void {
  const next = document.documentElement.dataset.mantineColorScheme === "dark" ? "light" : "dark";
  keep(next);
  apply(next);
}

export const useThemeShown = (): "light" | "dark" => useComputedColorScheme("light");
