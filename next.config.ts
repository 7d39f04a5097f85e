import type { NextConfig } from "next";

const config: NextConfig = {
  poweredByHeader: false,
  reactStrictMode: true,
  devIndicators: false,
  serverExternalPackages: ["@electric-sql/pglite", "web-tree-sitter"],
  // Types are checked by `npm test` over the whole project, tests and scripts included.
  typescript: { ignoreBuildErrors: true },
};

export default config;
