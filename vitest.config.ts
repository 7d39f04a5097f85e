import path from "node:path";
import { defineConfig } from "vitest/config";

const PURE = ["src/core/**/*.test.ts", "src/ui/**/*.test.ts", "src/api/**/*.test.ts"];

export default defineConfig({
  resolve: { alias: { "@": path.resolve(import.meta.dirname, "src") } },
  test: {
    projects: [
      // Pure code keeps no state between files: reading its modules once instead of for each file takes a third of the time.
      { extends: true, test: { name: "pure", include: PURE, isolate: false } },
      {
        extends: true,
        test: {
          name: "whole",
          include: ["src/**/*.test.ts", "tests/**/*.test.ts"],
          exclude: [...PURE, "**/node_modules/**"],
        },
      },
    ],
    setupFiles: ["src/testing/property-seed.ts"],
    // Two cores: more workers would only make processes that tests wait for slower.
    maxWorkers: 2,
    testTimeout: 300_000,
    hookTimeout: 300_000,
    env: { SIDE_TWIN_HOME: import.meta.dirname },
  },
});
