import type { NextConfig } from "next";

const config: NextConfig = {
  serverExternalPackages: ["@electric-sql/pglite", "pg", "pngjs"],
  turbopack: {
    // The decoder's glue asks for these only when it finds itself in Node.
    resolveAlias: {
      fs: { browser: "./src/core/formats/gltf/no-module.ts" },
      path: { browser: "./src/core/formats/gltf/no-module.ts" },
    },
  },
  // Types are checked by the test command, in a fifth of the time and with the tests.
  typescript: { ignoreBuildErrors: true },
  reactStrictMode: true,
  poweredByHeader: false,
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
