import { describe, expect, it } from "vitest";
import { TEST_READER_NAMES } from "@/core/formats/port-file";
import { SUITE_READERS } from "@/core/suites/readers";
import { findTestPairs, pairTests, uniqueTests } from "@/core/suites/suite";

describe("the readers of test results", () => {
  it("are all that the port file names", () => {
    expect(SUITE_READERS.map(({ name }) => name).sort()).toEqual([...TEST_READER_NAMES].sort());
  });

  it.each(SUITE_READERS.map((reader) => [reader.name, reader] as const))(
    "%s reads its example, and nothing in nothing",
    (_, reader) => {
      const pattern = "^\\[(?<result>\\w+)\\] (?<name>.+)$";
      expect(reader.read(reader.example.text, { pattern })).toEqual(reader.example.finds);
      expect(reader.read("", { pattern })).toEqual([]);
      expect(reader.read("<not really xml & 'ok 1", { pattern }).every(({ name }) => name !== "")).toBe(true);
    },
  );
});

describe("pairs of tests", () => {
  it("are found by equal names, then by words, each test once", () => {
    const pairs = findTestPairs(
      ["tests.FareTest.test_child_pays_half", "tests.FareTest.test_adult", "tests.FareTest.test_gone"],
      ["fares > a child pays half", "fares > adult"],
      [],
    );
    expect([...pairs]).toEqual([
      ["tests.FareTest.test_child_pays_half", "fares > a child pays half"],
      ["tests.FareTest.test_adult", "fares > adult"],
    ]);
  });

  it("take a person's word first", () => {
    expect(findTestPairs(["a", "b"], ["a", "c"], [{ original: "a", twin: "c" }]).get("a")).toBe("c");
  });

  it("have a state each, and tests of the twin alone come last", () => {
    const rows = pairTests(
      [
        { name: "a", result: "passed" },
        { name: "b", result: "passed" },
        { name: "c", result: "skipped" },
      ],
      [
        { name: "a", result: "passed" },
        { name: "b2", result: "failed" },
        { name: "z", result: "passed" },
      ],
      new Map([
        ["a", "a"],
        ["b", "b2"],
      ]),
    );
    expect(rows.map(({ state }) => state)).toEqual(["same", "differs", "not-ported", "only-in-twin"]);
    expect(rows[2]).toMatchObject({ twin: null, twinResult: "absent" });
  });

  it("count a failure before a success of the same name", () => {
    expect(
      uniqueTests([
        { name: "a", result: "failed" },
        { name: "a", result: "passed" },
      ]),
    ).toEqual([{ name: "a", result: "failed" }]);
  });
});
