import type { Cause } from "@/core/explain/cause";
import { examineWrap } from "@/core/explain/numbers";

export const int32Wrap: Cause = {
  name: "int32-wrap",
  title: "Whole numbers wrap at 32 bits",
  note: "Bitwise operators and 32-bit types keep 32 bits only, and a language with bigger integers keeps all of them. Fix: mask with 0xFFFFFFFF where the original wraps, or use a wider type or BigInt where it does not.",
  inCode: { original: { any: /<<|>>|&|\^|\*/ }, twin: { any: /\|\s*0\b|>>>?|<<|Math\.imul|~|\^|&|\bint\b|i32|int32/ } },
  examine: (facets) => examineWrap(facets, 32),
  fires: [
    [
      { original: 4294967296, twin: 0 },
      { original: 4294967301, twin: 5 },
    ],
    [{ original: 3000000000, twin: -1294967296 }],
  ],
  staysQuiet: [[{ original: 5, twin: 6 }], [{ original: 4294967296, twin: 1 }]],
};
