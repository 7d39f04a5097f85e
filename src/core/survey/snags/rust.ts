/** Platform-bound items of Rust. */
import type { SnagRule } from "@/core/survey/snags/snag";

export const rust: readonly SnagRule[] = [
  {
    kind: "host",
    title: "Files, processes and the network",
    why: "What the system gives has other errors elsewhere.",
    names: ["std.fs*", "std.io*", "std.net*", "std.process*", "std.env*", "std.path*", "std.os*"],
  },
  {
    kind: "dynamic",
    title: "Macros",
    why: "They are expanded by the compiler.",
    syntax: ["macro_definition", "attribute_item"],
  },
  {
    kind: "dynamic",
    title: "Unsafe code and foreign functions",
    why: "The compiler's promises do not hold there.",
    syntax: ["unsafe_block", "foreign_mod_item"],
    names: ["std.ffi*", "std.mem*", "std.ptr*"],
  },
  {
    kind: "flow",
    title: "Results handed on",
    why: "Each ? leaves the function; elsewhere it is an exception or a test.",
    syntax: ["try_expression"],
    names: ["std.panic*"],
  },
  {
    kind: "numbers",
    title: "Wrapping and checked arithmetic",
    why: "Overflow panics in one build and wraps in another.",
    names: ["std.num*"],
  },
  {
    kind: "threads",
    title: "Threads, locks and async",
    why: "Ownership is what keeps them safe here.",
    names: ["std.thread*", "std.sync*"],
    packages: ["tokio*", "async_std*", "rayon", "crossbeam*", "futures*"],
    syntax: ["await_expression"],
  },
  {
    kind: "time",
    title: "Clock",
    why: "There are no calendars in the standard library.",
    names: ["std.time*"],
    packages: ["chrono", "time"],
  },
  {
    kind: "locale",
    title: "Text forms",
    why: "Text is UTF-8 bytes, and is cut at bytes.",
    names: ["std.str*", "std.char*"],
  },
  {
    kind: "state",
    title: "Global state",
    why: "It is shared by all threads, and made once.",
    syntax: ["static_item"],
    packages: ["lazy_static", "once_cell"],
  },
  {
    kind: "state",
    title: "Chance",
    why: "The same seed gives other numbers elsewhere.",
    packages: ["rand*", "getrandom", "uuid"],
  },
  {
    kind: "library",
    title: "Shared ownership",
    why: "Another language frees by itself, or by hand.",
    names: ["std.rc*", "std.cell*"],
  },
];
