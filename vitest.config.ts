import path from "node:path";
import { defineConfig } from "vitest/config";

export default defineConfig({
  resolve: { alias: { "@": path.resolve(import.meta.dirname, "src") } },
  test: {
    include: ["src/**/*.test.ts", "tests/**/*.test.ts"],
    setupFiles: ["src/testing/property-seed.ts"],
    // Two cores: more workers would only make processes that tests wait for slower.
    maxWorkers: 2,
    testTimeout: 300_000,
    hookTimeout: 300_000,
    env: { SIDE_TWIN_HOME: import.meta.dirname },
  },
});
