import { describe, expect, it } from "vitest";
import { isTestFile } from "@/core/survey/test-files";

describe("test files", () => {
  it.each([
    "test.js",
    "lib/tests.py",
    "spec.mjs",
    "test_tides.py",
    "tides_test.go",
    "src/tides.test.ts",
    "lib/tides_spec.rb",
    "TidesTest.java",
    "conftest.py",
    "tests/helpers.c",
    "__tests__/tides.js",
  ])("include %s", (file) => expect(isTestFile(file)).toBe(true));

  it.each(["latest.js", "contest.py", "testing.py", "spec.py", "attest.rb", "src/protest.ts", "test.c"])(
    "do not include %s",
    (file) => expect(isTestFile(file)).toBe(false),
  );
});
