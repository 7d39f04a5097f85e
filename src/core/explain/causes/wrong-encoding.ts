import { type Cause, findingFrom } from "@/core/explain/cause";

export const wrongEncoding: Cause = {
  name: "wrong-encoding",
  title: "Bytes are read in another encoding",
  note: "Bytes of UTF-8 read as Latin-1 (or the other way) turn one letter into two odd ones or into a replacement character. Fix: name the encoding where bytes become text.",
  examine: ({ texts }) =>
    findingFrom(texts, ({ original, twin }) => isMisread(original, twin) || isMisread(twin, original), {
      weight: 0.985,
      evidence: "the same bytes in another encoding",
    }),
  fires: [
    [{ original: "é", twin: "Ã©" }],
    [{ original: "naïve", twin: "na\ufffdve" }],
    [{ original: "Füße", twin: "F??e" }],
  ],
  staysQuiet: [[{ original: "é", twin: "e" }], [{ original: "what?", twin: "what!" }]],
};

function isMisread(right: string, wrong: string): boolean {
  if (right === wrong || !/\P{ASCII}/u.test(right)) return false;
  const bytes = new TextEncoder().encode(right);
  if (Array.from(bytes, (byte) => String.fromCharCode(byte)).join("") === wrong) return true;
  if (new TextDecoder("windows-1252").decode(bytes) === wrong) return true;
  // Characters that the other encoding lacks were replaced or dropped, by letter or byte.
  const pattern = right.replace(/[.*+?^${}()|[\]\\]/g, "\\$&").replace(/\P{ASCII}+/gu, "(?:[?\\ufffd]+|)");
  return new RegExp(`^${pattern}$`).test(wrong);
}
