import { comparer, pairOf } from "@/core/compare/comparers/comparer";
import { hasEnding } from "@/core/compare/document";
import { compareJson, type JsonText, parseJsonText, toValue } from "@/core/compare/json-text";

export const json = comparer<JsonText>({
  kind: "json",
  title: "JSON",
  description: "By path; blanks and the order of keys do not count, and whole numbers are exact at any length.",
  read: ({ name, content }, asked) =>
    typeof content === "string" ? parseJsonText(content, asked || hasEnding(name, ".json")) : null,
  compare: compareJson,
  show: (_, { original, twin }) => ({ values: { original: toValue(original.json), twin: toValue(twin.json) } }),
  fires: [
    pairOf("", '{"a": [1, 2, 3]}', '{"a": [1, 3]}'),
    pairOf("a.json", "9007199254740993", "9007199254740992"),
    pairOf("", '{"a": 1}', '{"a": 1, "b": null}'),
  ],
  staysQuiet: [pairOf("", '{"a": 1, "b": [2.0]}', '{"b": [2], "a": 1}\n')],
});
