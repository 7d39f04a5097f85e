import { comparer, pairOf } from "@/core/compare/comparers/comparer";
import { compareText } from "@/core/compare/text";

export const text = comparer<string>({
  kind: "text",
  title: "Text",
  description: "Line by line, aligned, so that an added line is one divergence and not all that follow.",
  read: ({ content }) => (typeof content === "string" ? content : null),
  compare: (state, at, { original, twin }) => compareText(state, at, original, twin),
  show: () => ({}),
  fires: [pairOf("", "one\ntwo\n", "one\n2\n")],
  staysQuiet: [pairOf("", "one\ntwo\n", "one\ntwo\n")],
});
