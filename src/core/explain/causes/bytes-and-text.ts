import { type Cause, findingFrom } from "@/core/explain/cause";
import type { Json } from "@/core/formats/json";

export const bytesAndText: Cause = {
  name: "bytes-and-text",
  title: "Bytes on one side, text on the other",
  note: "A buffer, a byte string or text that is not UTF-8 is bytes; the other side has decoded it. Fix: decode or encode at the border, with the encoding that the data has, or hand over the same type on both sides.",
  examine: ({ all }) =>
    findingFrom(all, (pair) => isSame(pair.original, pair.twin) || isSame(pair.twin, pair.original), {
      weight: 0.97,
      evidence: "the same bytes, once as text",
    }),
  fires: [[{ original: { "~bytes": "YWJj" }, twin: "abc" }], [{ original: "é", twin: { "~bytes": "6Q==" } }]],
  staysQuiet: [
    [{ original: { "~bytes": "YWJj" }, twin: "abd" }],
    [{ original: "abc", twin: "abd" }],
    [
      { original: { "~bytes": "" }, twin: "" },
      { original: 1, twin: 2 },
    ],
  ],
};

/** Whether bytes are the text's, in UTF-8 or Latin-1. */
function isSame(bytes: Json | undefined, text: Json | undefined): boolean {
  if (typeof text !== "string" || text === "" || typeof bytes !== "object" || bytes === null || Array.isArray(bytes))
    return false;
  const data = (bytes as { readonly [key: string]: Json })["~bytes"];
  if (typeof data !== "string") return false;
  const decoded = Uint8Array.from(atob(data), (letter) => letter.charCodeAt(0));
  return new TextDecoder().decode(decoded) === text || atob(data) === text;
}
