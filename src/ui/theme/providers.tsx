"use client";

import { MantineProvider } from "@mantine/core";
import { ModalsProvider } from "@mantine/modals";
import { Notifications } from "@mantine/notifications";
import type { ReactNode } from "react";
import { theme, tokens } from "./theme";

export function Providers({ children }: { children: ReactNode }) {
  return (
    <MantineProvider theme={theme} cssVariablesResolver={tokens} defaultColorScheme="light">
      <ModalsProvider modalProps={{ transitionProps: { duration: 0 } }}>
        <Notifications position="bottom-center" limit={3} />
        {children}
      </ModalsProvider>
    </MantineProvider>
  );
}
