import { describe, expect, it } from "vitest";
import { guessTestCommands, tellsOfTests } from "@/core/bring-in/test-commands";

const guess = (language: string, texts: Readonly<Record<string, string>>) =>
  guessTestCommands(language, { files: Object.keys(texts), texts: new Map(Object.entries(texts)) }).map((command) =>
    command.join(" "),
  );

describe("commands that run an original's tests", () => {
  it("are unittest's for Python, and pytest's where something asks for it or nothing else would find them", () => {
    const cases = "import unittest\nclass T(unittest.TestCase):\n  pass\n";
    expect(guess("python", { "tests/test_quay.py": cases })).toEqual(["python3 -m unittest", "python3 -m pytest"]);
    expect(guess("python", { "test_quay.py": "import pytest\n" })).toEqual(["python3 -m pytest"]);
    expect(guess("python", { "test_quay.py": "def test_a(): pass\n" })).toEqual(["python3 -m pytest"]);
    expect(guess("python", { "test_quay.py": cases, "setup.cfg": "[tool.pytest]\n" })).toEqual(["python3 -m pytest"]);
    expect(guess("python", { "test_quay.py": cases, "conftest.py": "" })).toEqual(["python3 -m pytest"]);
  });

  it("are the package's own for JavaScript, and Node.js's for test files of its kind", () => {
    expect(guess("javascript", { "package.json": '{"scripts":{"test":"lint && run"}}', "a.test.mjs": "" })).toEqual([
      "npm test",
      "node --test",
    ]);
    expect(guess("typescript", { "package.json": '{"scripts":{"test":"vitest run"}}', "a.test.ts": "" })).toEqual([
      "npm test",
    ]);
    expect(guess("javascript", { "package.json": '{"scripts":{"test":"echo no test specified && exit 1"}}' })).toEqual(
      [],
    );
    expect(guess("javascript", { "package.json": "{ not json" })).toEqual([]);
  });

  it("are none without tests, and for languages that are not recorded", () => {
    expect(guess("python", { "quay.py": "import pytest\n" })).toEqual([]);
    expect(guess("go", { "quay_test.go": "" })).toEqual([]);
  });
});

it("reads manifests and test files for it, and nothing else", () => {
  expect(["package.json", "a/pytest.ini", "tests/quay.py", "x.test.mts"].map(tellsOfTests)).toEqual([
    true,
    true,
    true,
    true,
  ]);
  expect(["quay.py", "tests/data.json", "my-package.json"].map(tellsOfTests)).toEqual([false, false, false]);
});
