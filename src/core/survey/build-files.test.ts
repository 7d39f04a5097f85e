import { expect, it } from "vitest";
import { isBuildFile } from "@/core/survey/build-files";

it.each([
  "setup.py",
  "pkg/setup.py",
  "noxfile.py",
  "gulpfile.js",
  "Gruntfile.cjs",
  "Rakefile",
  "lint.config.mjs",
  "a/b.tool.config.ts",
])("%s belongs to the build", (file) => expect(isBuildFile(file)).toBe(true));

it.each(["app/setup_pump.py", "src/config.ts", "build.rs", "src/setup.pyx", "gulpfiles.js", "my.config.tsx"])(
  "%s is code like other",
  (file) => expect(isBuildFile(file)).toBe(false),
);
