import { z } from "zod";
import { jsonLines } from "@/core/diagnostics/diagnostic";
import { type SuiteReader, type TestOutcome, uniqueTests } from "@/core/suites/suite";

const event = z.object({ Action: z.string(), Package: z.string().optional(), Test: z.string().optional() });

/** `go test -json`. The package is a part of the name where two packages have a test of that name. */
export const goJson: SuiteReader = {
  name: "go-json",
  title: "go test -json",
  read: (text) => {
    const ended = jsonLines({ stdout: text, stderr: "" }).values.flatMap((value) => {
      const read = event.safeParse(value);
      const result = read.success ? RESULTS[read.data.Action] : undefined;
      return read.success && result && read.data.Test
        ? [{ owner: read.data.Package ?? "", test: read.data.Test, result }]
        : [];
    });
    const owners = new Map<string, Set<string>>();
    for (const { owner, test } of ended) owners.set(test, (owners.get(test) ?? new Set()).add(owner));
    return uniqueTests(
      ended.map(({ owner, test, result }) => ({
        name: (owners.get(test)?.size ?? 0) > 1 ? `${owner}.${test}` : test,
        result,
      })),
    );
  },
  example: {
    text: '{"Action":"run","Package":"tide","Test":"TestEbb"}\n{"Action":"pass","Package":"tide","Test":"TestEbb"}\n{"Action":"skip","Package":"tide","Test":"TestFlood"}\n{"Action":"pass","Package":"tide"}\n',
    finds: [
      { name: "TestEbb", result: "passed" },
      { name: "TestFlood", result: "skipped" },
    ],
  },
};

const RESULTS: Readonly<Record<string, TestOutcome["result"]>> = { pass: "passed", fail: "failed", skip: "skipped" };
