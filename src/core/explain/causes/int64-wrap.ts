import type { Cause } from "@/core/explain/cause";
import { examineWrap } from "@/core/explain/numbers";

export const int64Wrap: Cause = {
  name: "int64-wrap",
  title: "Whole numbers wrap at 64 bits",
  note: "A 64-bit type keeps 64 bits only, where the other side's integers grow. Fix: BigInt.asIntN(64, …) or a mask where the original wraps; arbitrary-precision integers where it does not.",
  examine: (facets) => examineWrap(facets, 64),
  fires: [
    [{ original: { "~int": "18446744073709551617" }, twin: 1 }],
    [{ original: { "~int": "9223372036854775808" }, twin: { "~int": "-9223372036854775808" } }],
  ],
  staysQuiet: [[{ original: 5, twin: 6 }], [{ original: { "~int": "18446744073709551617" }, twin: 2 }]],
};
