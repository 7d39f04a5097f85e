/** Runs the test suites of both sides, and pairs their tests (formats, section 12). */

import { rmSync } from "node:fs";
import { mkdtemp, readFile, realpath, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import path from "node:path";
import { SideTwinError } from "@/core/errors";
import type { TestSuite } from "@/core/formats/port-file";
import { SUITE_READERS } from "@/core/suites/readers/index";
import { findTestPairs, type PairedTest, pairTests, type TestOutcome } from "@/core/suites/suite";
import { decodeOutput } from "@/engine/files/text";
import { describeEnd } from "@/engine/process/run";
import { readWithPattern } from "@/engine/within";
import { prepareSide, runInSide } from "@/service/check/sides";
import { type OpenPort, type OpenSide, twinsFor } from "@/service/port/open-port";

const SUITE_TIME_MS = 20 * 60_000;

/** The tests of one twin beside those of the original. */
export type TwinTests = { readonly name: string; readonly tests: readonly PairedTest[] };

export type SuiteOptions = {
  readonly twin?: string | undefined;
  readonly signal?: AbortSignal | undefined;
  readonly answersFolder?: string | undefined;
  readonly onSuite?: ((side: string) => void) | undefined;
};

/** Runs the original's suite once, and that of each wanted twin. Throws SideTwinError where a suite cannot be run. */
export async function runSuites(open: OpenPort, options: SuiteOptions = {}): Promise<TwinTests[]> {
  const { tests } = open.port;
  if (!tests)
    throw new SideTwinError({
      code: "bad-input",
      what: "The port has no test suites",
      where: { file: path.basename(open.file), key: "tests" },
      next: 'Add "tests": { "original": { "command": […], "reads": "junit" }, "twins": { … } }.',
    });
  const twins = twinsFor(open, options.twin);
  const original = await runSuite(open, open.original, "original", tests.original, options);
  const found: TwinTests[] = [];
  for (const twin of twins) {
    const suite = tests.twins[twin.name];
    const own = suite ? await runSuite(open, twin, twin.name, suite, options) : [];
    const pairs = findTestPairs(
      original.map(({ name }) => name),
      own.map(({ name }) => name),
      tests.pairs,
    );
    found.push({ name: twin.name, tests: pairTests(original, own, pairs) });
  }
  return found;
}

async function runSuite(
  open: OpenPort,
  side: OpenSide,
  name: string,
  suite: TestSuite,
  {
    signal,
    onSuite,
    answersFolder = null,
  }: Omit<SuiteOptions, "answersFolder"> & { readonly answersFolder?: string | null | undefined },
): Promise<TestOutcome[]> {
  onSuite?.(name);
  // A side that cannot be built still reports its tests as failed.
  await prepareSide(open, side, name, { signal, answersFolder }).catch(() => undefined);
  const scratch = await realpath(await mkdtemp(path.join(tmpdir(), "side-twin-tests-")));
  try {
    const file = suite.file === undefined ? null : path.resolve(side.folder, suite.file);
    // Results of an earlier run must not be taken for those of this one.
    if (file) rmSync(file, { force: true });
    const record = await runInSide(open, side, { command: suite.command, scratch, signal, timeMs: SUITE_TIME_MS });
    const printed = `${decodeOutput(record.stdout)}\n${decodeOutput(record.stderr)}`;
    const text = file === null ? printed : await readFile(file, "utf8").catch(() => "");
    const reader = SUITE_READERS.find((entry) => entry.name === suite.reads);
    const found = reader
      ? readWithPattern(suite.pattern, "tests", () => reader.read(text, { pattern: suite.pattern }))
      : [];
    if (found.length > 0) return found;
    throw new SideTwinError({
      code: "bad-input",
      what: `The test suite of ${name} gave no result that "${suite.reads}" reads: ${describeEnd(record.end)}${lastOf(printed)}`,
      where: { file: path.basename(open.file), key: `tests.${name === "original" ? name : `twins.${name}`}` },
      next: "Run the command in the side's folder, and correct it or the reader.",
    });
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}

const MAX_SHOWN = 600;

const lastOf = (printed: string): string => (printed.trim() === "" ? "" : `\n${printed.trim().slice(-MAX_SHOWN)}\n`);
