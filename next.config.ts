import type { NextConfig } from "next";

const config: NextConfig = {
  serverExternalPackages: ["@electric-sql/pglite", "pngjs"],
  reactStrictMode: true,
  poweredByHeader: false,
  experimental: { optimizePackageImports: ["@mantine/core", "@mantine/hooks", "@tabler/icons-react"] },
  headers: async () => [
    {
      source: "/:path*",
      // Cross-origin isolation: lets workers share memory where the browser allows it; nothing depends on it.
      headers: [
        { key: "Cross-Origin-Opener-Policy", value: "same-origin" },
        { key: "Cross-Origin-Embedder-Policy", value: "require-corp" },
      ],
    },
  ],
};

export default config;
