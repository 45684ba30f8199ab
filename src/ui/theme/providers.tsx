"use client";

import { MantineProvider } from "@mantine/core";
import { ModalsProvider } from "@mantine/modals";
import type { ReactNode } from "react";
import { theme, tokens } from "./theme";
import { themeManager } from "./theme-choice";

export function Providers({ children }: { children: ReactNode }) {
  return (
    <MantineProvider
      theme={theme}
      cssVariablesResolver={tokens}
      defaultColorScheme="light"
      colorSchemeManager={themeManager}
    >
      <ModalsProvider modalProps={{ transitionProps: { duration: 0 }, closeButtonProps: { "aria-label": "Close" } }}>
        {children}
      </ModalsProvider>
    </MantineProvider>
  );
}
