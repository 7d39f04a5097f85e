import { linesOf } from "@/core/diagnostics/diagnostic";
import { type SuiteReader, type TestOutcome, uniqueTests } from "@/core/suites/suite";

/** `test_a (tests.t.Case.test_a) ... ok`, before 3.11 without the name in brackets; a docstring may come between. */
const NAMED = /^(\w+) \(([\w.<>]+)\)(.*)$/;
const RESULT = /(?:^|\.\.\. |\s)(ok|FAIL|ERROR|expected failure|unexpected success|skipped .*)$/;

/** Python's unittest with `-v`. */
export const unittest: SuiteReader = {
  name: "unittest",
  title: "unittest (verbose)",
  read: (text) => {
    const found: TestOutcome[] = [];
    let open: string | null = null;
    for (const line of linesOf(text)) {
      if (/^={20,}$/.test(line)) break;
      const named = NAMED.exec(line);
      if (named) open = nameOf(named[1] ?? "", named[2] ?? "");
      const result = open === null ? null : RESULT.exec(line);
      if (open === null || !result) continue;
      found.push({ name: open, result: resultOf(result[1] ?? "") });
      open = null;
    }
    return uniqueTests(found);
  },
  example: {
    text: "test_a (t.Case.test_a) ... ok\ntest_b (t.Case)\nSays why. ... FAIL\ntest_c (t.Case.test_c) ... skipped 'later'\n",
    finds: [
      { name: "t.Case.test_a", result: "passed" },
      { name: "t.Case.test_b", result: "failed" },
      { name: "t.Case.test_c", result: "skipped" },
    ],
  },
};

const nameOf = (test: string, owner: string): string => (owner.endsWith(`.${test}`) ? owner : `${owner}.${test}`);

const resultOf = (word: string): TestOutcome["result"] =>
  word.startsWith("skipped") ? "skipped" : word === "ok" || word === "expected failure" ? "passed" : "failed";
