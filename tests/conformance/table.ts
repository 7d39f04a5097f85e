/**
 * What every driver does alike: the same functions, written in each language under `sides/`, the same cases, one table of what is
 * expected. `in` says otherwise for a language, `null` that it cannot have it.
 */
import type { Json } from "@/core/formats/json";

export type Row = {
  readonly name: string;
  readonly args: readonly Json[];
  /** The value; `{ thrown: kind }`, `{ broken: words }`. Compared by the default equality. */
  readonly gives: Json;
  /** The arguments after the call, where they change. */
  readonly after?: readonly Json[];
  readonly printed?: string;
  readonly in?: Readonly<Record<string, Partial<Pick<Row, "gives" | "args">> | null>>;
};

const thrown = (kind: string): Json => ({ thrown: kind });
const broken = (words: string): Json => ({ broken: words });
/** C has neither maps, sets, dates nor errors that are thrown, and no type for any value. */
const NOT_C = { c: null };
/** Rust has no dates. */
const NOT_RUST = { rust: null };
/** Languages without a type for any value. */
const NO_ANY = { c: null, cpp: null, rust: null };
/** Languages that have no types of parameters take what comes. */
const UNTYPED = { python: null, javascript: null, ruby: null };

export const ROWS: readonly Row[] = [
  { name: "twice", args: [21], gives: 42 },
  { name: "half", args: [3], gives: 1.5 },
  { name: "half", args: [{ "~float": "4.0" }], gives: { "~float": "2.0" } },
  { name: "join", args: [["a", "é", "𝔘"], "-"], gives: "a-é-𝔘" },
  { name: "is_even", args: [4], gives: true },
  { name: "count", args: [["b", "a", "b"]], gives: { a: 1, b: 2 }, in: NOT_C },
  {
    name: "distinct",
    args: [["b", "a", "b"]],
    gives: { "~set": ["a", "b"] },
    in: { ...NOT_C, php: { gives: ["b", "a"] } },
  },
  {
    name: "longest",
    args: [
      [
        { name: "Knot", metres: 9 },
        { name: "Tern", metres: 12 },
      ],
    ],
    gives: { name: "Tern", metres: 12 },
  },
  {
    name: "longest",
    args: [[{ "~obj": "Boat", fields: { name: "Knot", metres: 9 } }]],
    gives: { name: "Knot", metres: 9 },
  },
  { name: "longest", args: [[]], gives: null },
  { name: "fill", args: [[1, 2, 3], 7], gives: null, after: [[7, 7, 7], 7] },
  { name: "greet", args: ["Ines"], gives: null, printed: "hello Ines\n" },
  { name: "refuse", args: [-1], gives: thrown("NegativeError"), in: NOT_C },
  { name: "refuse", args: [1], gives: 1, in: NOT_C },
  {
    name: "big",
    args: [],
    gives: { "~int": "9223372036854775807" },
    in: { javascript: { gives: { "~int": "9223372036854775807" } } },
  },
  { name: "odd_number", args: [0], gives: { "~num": "NaN" } },
  { name: "odd_number", args: [1], gives: { "~num": "Infinity" } },
  { name: "odd_number", args: [2], gives: { "~num": "-0" } },
  { name: "reversed_bytes", args: [{ "~bytes": "AP8C" }], gives: { "~bytes": "Av8A" } },
  {
    name: "next_day",
    args: [{ "~date": "2032-02-28" }],
    gives: { "~date": "2032-02-29" },
    in: {
      ...NOT_C,
      ...NOT_RUST,
      javascript: { gives: { "~time": "2032-02-29T00:00:00Z" } },
      go: { gives: { "~time": "2032-02-29T00:00:00Z" } },
    },
  },
  { name: "tick", args: [], gives: 1 },
  { name: "tick", args: [], gives: 1 },
  {
    name: "nested",
    args: [{ a: [1, { b: null }], c: "x" }],
    gives: { a: [1, { b: null }], c: "x" },
    in: NO_ANY,
  },
  { name: "missing", args: [], gives: { missing: true } },
  { name: "twice", args: ["x"], gives: broken("twice"), in: UNTYPED },
  { name: "twice", args: [1, 2, 3], gives: broken("twice"), in: { python: null, javascript: null } },
];

/** What the port says of arguments; C alone has some that need it. */
export const SHAPES = { "side.reversed_bytes": { return: "bytes, freed by free", made: "length of return" } };

/** Steps on an object, and what each gives, or gives in a language. */
export const STEPS = [
  { step: { new: "Quay", args: [20], as: "q" } },
  { step: { call: "moor", on: "q", args: [{ name: "Knot", metres: 9 }] }, gives: 11 },
  { step: { get: "room", on: "q" }, gives: 11 },
  {
    step: { call: "moor", on: "q", args: [{ name: "Tern", metres: 12 }] },
    gives: thrown("NoRoomError"),
    in: { c: -1 },
  },
  { step: { set: "room", on: "q", value: 50 }, gives: null },
  { step: { new: "Quay", args: [1], as: "p" } },
  { step: { call: "larger", on: "q", args: [{ "~as": "p" }] }, gives: true },
] as const;
