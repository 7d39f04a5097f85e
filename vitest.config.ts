import path from "node:path";
import { defineConfig } from "vitest/config";

export default defineConfig({
  resolve: { alias: { "@": path.resolve(import.meta.dirname, "src") } },
  test: {
    include: ["src/**/*.test.ts", "tests/**/*.test.ts"],
    setupFiles: ["src/testing/property-seed.ts"],
    // One more than the cores of a small machine: tests wait for processes half of their time.
    maxWorkers: 3,
    testTimeout: 300_000,
    hookTimeout: 300_000,
    env: { SIDE_TWIN_HOME: import.meta.dirname },
  },
});
