/** The readers of diagnostics, one line each. */
import type { DiagnosticsReader } from "@/core/diagnostics/diagnostic";
import { eslintJson } from "@/core/diagnostics/readers/eslint-json";
import { gcc } from "@/core/diagnostics/readers/gcc";
import { go } from "@/core/diagnostics/readers/go";
import { javac } from "@/core/diagnostics/readers/javac";
import { mypy } from "@/core/diagnostics/readers/mypy";
import { pattern } from "@/core/diagnostics/readers/pattern";
import { php } from "@/core/diagnostics/readers/php";
import { python } from "@/core/diagnostics/readers/python";
import { ruby } from "@/core/diagnostics/readers/ruby";
import { rustcJson } from "@/core/diagnostics/readers/rustc-json";
import { sarif } from "@/core/diagnostics/readers/sarif";
import { tsc } from "@/core/diagnostics/readers/tsc";

/** All readers, by the names of the port file. */
export const READERS: readonly DiagnosticsReader[] = [
  tsc,
  gcc,
  javac,
  rustcJson,
  go,
  python,
  mypy,
  eslintJson,
  ruby,
  php,
  sarif,
  pattern,
];
