import "@fontsource-variable/figtree";
import "@mantine/core/styles.css";
import "@mantine/dropzone/styles.css";
import "@mantine/spotlight/styles.css";
import "@/ui/theme/global.css";
import { ColorSchemeScript, mantineHtmlProps } from "@mantine/core";
import type { Metadata } from "next";
import { headers } from "next/headers";
import type { ReactNode } from "react";
import { Providers } from "@/ui/theme/providers";
import { THEME_KEY } from "@/ui/theme/theme-choice";

export const metadata: Metadata = { title: "Tavlin", description: "A cutting table for UV layouts" };

export default async function RootLayout({ children }: { children: ReactNode }) {
  // The page's one inline script must carry the nonce of its content security policy.
  const nonce = (await headers()).get("x-nonce") ?? undefined;
  return (
    <html lang="en" {...mantineHtmlProps}>
      <head>
        <ColorSchemeScript defaultColorScheme="light" localStorageKey={THEME_KEY} {...(nonce ? { nonce } : {})} />
        <link
          rel="icon"
          href="data:image/svg+xml,%3Csvg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 16 16'%3E%3Cpath d='M2 3h12v4H9v7H7V7H2z' fill='%238e2449'/%3E%3C/svg%3E"
        />
      </head>
      <body>
        <Providers>{children}</Providers>
      </body>
    </html>
  );
}
