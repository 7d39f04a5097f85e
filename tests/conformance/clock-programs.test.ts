/** Fixed clock and seed of whole programs in languages that take both from the C library. */
import { execFileSync } from "node:child_process";
import { describe, expect, it } from "vitest";
import { type RunCase, sharedCaseSchema } from "@/core/formats/case-line";
import { canFix } from "@/engine/runs/fixed-environment";
import { runPrograms } from "@/engine/runs/program-runs";
import { temporaryFolder } from "@/testing/temporary-port";

type Program = {
  readonly language: string;
  readonly file: string;
  /** Prints the time in seconds, then random numbers. */
  readonly source: string;
  readonly build: readonly string[] | null;
  readonly run: readonly string[];
  readonly canSeed: boolean;
};

const PROGRAMS: readonly Program[] = [
  {
    language: "c",
    file: "dice.c",
    source: `#include <stdio.h>
#include <stdlib.h>
#include <sys/random.h>
#include <sys/time.h>
#include <time.h>

int main(void) {
    struct timeval now;
    struct timespec exact;
    unsigned noise;
    gettimeofday(&now, NULL);
    clock_gettime(CLOCK_REALTIME, &exact);
    getrandom(&noise, sizeof noise, 0);
    if (now.tv_sec != time(NULL) || exact.tv_sec != time(NULL)) return 9;
    printf("%ld %d %u\\n", (long)time(NULL), rand(), noise);
    return 0;
}
`,
    build: ["cc", "-o", "dice", "dice.c"],
    run: ["./dice"],
    canSeed: true,
  },
  {
    language: "cpp",
    file: "dice.cpp",
    source: `#include <chrono>
#include <iostream>
#include <random>

int main() {
    auto now = std::chrono::system_clock::now().time_since_epoch();
    std::random_device device;
    std::cout << std::chrono::duration_cast<std::chrono::seconds>(now).count() << " " << device() << "\\n";
}
`,
    build: ["c++", "-o", "dice", "dice.cpp"],
    run: ["./dice"],
    canSeed: true,
  },
  {
    language: "rust",
    file: "dice.rs",
    source: `use std::collections::hash_map::RandomState;
use std::hash::BuildHasher;

fn main() {
    let now = std::time::SystemTime::now().duration_since(std::time::UNIX_EPOCH).unwrap();
    println!("{} {}", now.as_secs(), RandomState::new().hash_one(7));
}
`,
    build: ["rustc", "-o", "dice", "dice.rs"],
    run: ["./dice"],
    canSeed: true,
  },
  {
    language: "php",
    file: "dice.php",
    // Two of uniqid() wait until the clock has moved.
    source: `<?php
$ids = [uniqid(), uniqid()];
if (count(array_unique($ids)) !== 2 || (new DateTime())->getTimestamp() !== time() || (int) microtime(true) !== time()) exit(9);
echo time(), " ", mt_rand(), " ", random_int(1, 1000000000), " ", implode(",", array_rand(range(0, 999), 5)), "\\n";
`,
    build: null,
    run: ["php", "dice.php"],
    canSeed: true,
  },
  {
    language: "java",
    file: "Dice.java",
    source: `public class Dice {
    public static void main(String[] args) throws Exception {
        Object lock = new Object();
        synchronized (lock) { lock.wait(5); }
        if (java.time.Instant.now().toEpochMilli() != System.currentTimeMillis()) System.exit(9);
        System.out.println(System.currentTimeMillis() / 1000);
    }
}
`,
    build: ["javac", "Dice.java"],
    run: ["java", "-Xshare:auto", "-cp", ".", "Dice"],
    canSeed: false,
  },
];

const LIMITS = { timeMs: 20_000, memoryMb: 1024, outputKb: 64, processes: 64 };
const AT = Date.UTC(2031, 3, 2, 6) / 1000;

const aRun = (id: string, more: object) => sharedCaseSchema.parse({ id, module: "dice", run: {}, ...more }) as RunCase;

async function runAll(program: Program, folder: string, cases: readonly RunCase[]) {
  const answers = new Map<string, unknown>();
  const { language, run } = program;
  const terms = { root: folder, language, command: run, env: {}, limits: LIMITS, jobs: 1 };
  await runPrograms(cases, terms, (item, { result }) => answers.set(item.id, result));
  return answers;
}

describe.each(PROGRAMS)("a program in $language", (program) => {
  const folder = temporaryFolder({ [program.file]: program.source });

  it("meets the fixed time, and the same random numbers for the same seed", async () => {
    if (program.build) execFileSync(program.build[0] ?? "", program.build.slice(1), { cwd: folder });
    expect(await canFix({ ...program, command: program.run, root: folder })).toBe(true);
    const now = "2031-04-02T08:00:00+02:00";
    const seeded = (seed: number) => (program.canSeed ? { now, seed } : { now });
    const cases = [aRun("one", seeded(7)), aRun("again", seeded(7)), aRun("other", seeded(8)), aRun("free", {})];
    const answers = await runAll(program, folder, cases);
    const printed = Object.fromEntries(
      [...answers].map(([id, answer]) => [id, (answer as { stdout: string }).stdout.trim().split(" ")]),
    );
    expect(printed.one?.[0]).toBe(String(AT));
    expect(printed.again).toEqual(printed.one);
    expect(Number(printed.free?.[0])).toBeLessThan(AT);
    if (!program.canSeed) return;
    for (const [at, number] of (printed.other ?? []).entries())
      if (at > 0) expect([number, printed.free?.[at]]).not.toContain(printed.one?.[at]);
  });
});

it("a Java program with a seed, a static program and a language without a way are refused", async () => {
  const folder = temporaryFolder({ "dice.c": PROGRAMS[0]?.source ?? "" });
  execFileSync("cc", ["-static", "-o", "dice", "dice.c"], { cwd: folder });
  const [c, , , , java] = PROGRAMS;
  if (!c || !java) throw new Error("no programs");
  const why = async (program: Program) => [...(await runAll(program, folder, [aRun("a", { seed: 7 })])).values()][0];
  expect(await why(java)).toMatchObject({ what: "The random numbers of a java program cannot be fixed" });
  expect(await why(c)).toMatchObject({
    what: expect.stringMatching(/dice cannot be fixed: it is linked statically$/),
  });
  expect(await why({ ...c, language: "go" })).toMatchObject({
    what: "The clock and the random numbers of a go program cannot be fixed",
  });
  expect(await canFix({ language: "c", command: ["./dice"], root: folder })).toBe(false);
});
