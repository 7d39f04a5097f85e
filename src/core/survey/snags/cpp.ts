/** Platform-bound items of C++. */
import { c } from "@/core/survey/snags/c";
import type { SnagRule } from "@/core/survey/snags/snag";

export const cpp: readonly SnagRule[] = [
  ...c,
  {
    kind: "dynamic",
    title: "Templates and run-time types",
    why: "They are worked out by the compiler, or by tables of its own.",
    syntax: ["template_declaration"],
    builtins: ["dynamic_cast", "typeid"],
    packages: ["typeinfo", "typeindex"],
  },
  {
    kind: "flow",
    title: "Exceptions",
    why: "Destructors run on the way out.",
    syntax: ["catch_clause", "throw_statement"],
    packages: ["exception", "stdexcept"],
  },
];
