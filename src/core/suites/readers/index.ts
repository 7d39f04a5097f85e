/** The readers of test results, one line each. */
import { goJson } from "@/core/suites/readers/go-json";
import { junit } from "@/core/suites/readers/junit";
import { pattern } from "@/core/suites/readers/pattern";
import { tap } from "@/core/suites/readers/tap";
import { unittest } from "@/core/suites/readers/unittest";
import type { SuiteReader } from "@/core/suites/suite";

/** All readers, by the names of the port file. */
export const SUITE_READERS: readonly SuiteReader[] = [junit, tap, unittest, goJson, pattern];
