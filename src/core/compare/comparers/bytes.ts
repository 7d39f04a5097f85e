import { bytesAround } from "@/core/compare/aligned-documents";
import { comparer, pairOf } from "@/core/compare/comparers/comparer";
import type { ComparisonState } from "@/core/compare/comparison-state";
import { digestOf } from "@/core/compare/digest";
import { bytesOf } from "@/core/compare/document";
import type { Value } from "@/core/values/value";

/** Bytes shown on each side of the first one that differs. */
const CONTEXT = 8;

export const bytes = comparer<Uint8Array>({
  kind: "bytes",
  title: "Bytes",
  description: "The first offset at which they differ, with the bytes around it, and how many bytes differ in all.",
  read: ({ content }) => bytesOf(content),
  compare: (state, at, { original, twin }) => compareBytes(state, at, original, twin),
  show: (at, { original, twin }) => {
    const differs = original.length !== twin.length || original.some((byte, index) => byte !== twin[index]);
    const size = ({ length }: Uint8Array) => `${length} ${length === 1 ? "byte" : "bytes"}`;
    const head = { at, label: at, depth: 0, original: size(original), twin: size(twin), differs };
    const around = bytesAround(original, twin).map((row) => ({
      ...row,
      at: `${at}.${row.label}`,
      depth: 1,
      differs: row.original !== row.twin,
    }));
    return { rows: differs ? [head, ...around] : [head] };
  },
  fires: [
    pairOf("a.bin", new Uint8Array([0, 255, 1]), new Uint8Array([0, 255, 2])),
    pairOf("a.bin", new Uint8Array([0, 255]), new Uint8Array([0, 255, 2])),
  ],
  staysQuiet: [pairOf("a.bin", new Uint8Array([0, 255, 1]), new Uint8Array([0, 255, 1]))],
});

function compareBytes(state: ComparisonState, at: string, original: Uint8Array, twin: Uint8Array): void {
  const shorter = Math.min(original.length, twin.length);
  let first = 0;
  while (first < shorter && original[first] === twin[first]) first++;
  if (first === original.length && first === twin.length) return;
  if (state.settle(at, { original: bytesValue(original), twin: bytesValue(twin) })) return;
  if (original.length !== twin.length) {
    state.report(`${at}.length`, "length", { original: int(original.length), twin: int(twin.length) });
  }
  state.report(`${at}.${first}`, "bytes", { original: around(original, first), twin: around(twin, first) });
}

/** Returns the bytes near an offset, empty past the end; the digest pins the whole content when it is agreed to. */
function around(data: Uint8Array, offset: number): Value {
  const near = data.subarray(Math.min(data.length, Math.max(0, offset - CONTEXT)), offset + CONTEXT + 1);
  return record({ bytes: bytesValue(near), digest: { kind: "text", value: digestOf(data) } });
}

const bytesValue = (data: Uint8Array): Value => ({ kind: "bytes", base64: toBase64(data) });
const record = (fields: Readonly<Record<string, Value>>): Value => ({
  kind: "map",
  plain: true,
  entries: Object.entries(fields).map(([key, value]) => [{ kind: "text", value: key }, value]),
});
const int = (value: number): Value => ({ kind: "int", value: BigInt(value) });

function toBase64(data: Uint8Array): string {
  let binary = "";
  for (let at = 0; at < data.length; at += 4096) binary += String.fromCharCode(...data.subarray(at, at + 4096));
  return btoa(binary);
}
