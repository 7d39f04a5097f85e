import { linesOf } from "@/core/diagnostics/diagnostic";
import { type SuiteReader, uniqueTests } from "@/core/suites/suite";

/** The person's own pattern, line by line, with named groups name and result. */
export const pattern: SuiteReader = {
  name: "pattern",
  title: "Own pattern",
  read: (text, terms) => {
    const own = new RegExp(terms.pattern ?? "(?!)", "u");
    return uniqueTests(
      linesOf(text).flatMap((line) => {
        const { name, result = "" } = own.exec(line)?.groups ?? {};
        if (!name) return [];
        const isSkipped = /skip|ignore|pend|todo/i.test(result);
        const isPassed = /^(?:ok|pass(?:ed)?|success|✓|\.|true|0)$/i.test(result.trim());
        return [{ name, result: isSkipped ? "skipped" : isPassed ? "passed" : "failed" } as const];
      }),
    );
  },
  example: { text: "[ok] ebb\n", finds: [{ name: "ebb", result: "passed" }] },
};
