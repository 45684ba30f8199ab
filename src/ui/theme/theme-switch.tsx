"use client";

import { ActionIcon } from "@mantine/core";
import { IconMoon, IconSun } from "@tabler/icons-react";
import { toggleTheme, useThemeShown } from "./theme-choice";

/** Light or dark; kept in this browser. */
export function ThemeSwitch() {
  const dark = useThemeShown() === "dark";
  const words = dark ? "Light theme" : "Dark theme";
  return (
    <ActionIcon variant="default" size={30} aria-label={words} title={words} onClick={toggleTheme}>
      {dark ? <IconSun size={16} /> : <IconMoon size={16} />}
    </ActionIcon>
  );
}
