/** Platform-bound items of Go. */
import type { SnagRule } from "@/core/survey/snags/snag";

export const go: readonly SnagRule[] = [
  {
    kind: "host",
    title: "Files, processes and the network",
    why: "Readers and writers have other counterparts elsewhere.",
    packages: ["os*", "io*", "net*", "syscall", "bufio", "path*", "golang.org/x/sys*", "database/sql*"],
  },
  {
    kind: "dynamic",
    title: "Reflection and unsafe memory",
    why: "Another language needs a table or generated code.",
    packages: ["reflect", "unsafe", "plugin", "go/*"],
  },
  {
    kind: "dynamic",
    title: "C code",
    why: "It is bound to a library and a compiler.",
    packages: ["C"],
  },
  {
    kind: "flow",
    title: "Panics and deferred calls",
    why: "They run on the way out of a function.",
    syntax: ["defer_statement"],
    builtins: ["panic", "recover"],
  },
  {
    kind: "numbers",
    title: "Big numbers",
    why: "A counterpart must have the same range and rounding.",
    packages: ["math/big", "math/bits"],
  },
  {
    kind: "threads",
    title: "Goroutines and channels",
    why: "Most languages have no counterpart of channels and select.",
    packages: ["sync*", "context"],
    syntax: ["go_statement", "select_statement", "send_statement"],
  },
  {
    kind: "time",
    title: "Clock and time zones",
    why: "Layouts are written as a reference time.",
    packages: ["time"],
  },
  {
    kind: "locale",
    title: "Text forms",
    why: "Text is bytes; runes are code points.",
    packages: ["unicode*", "golang.org/x/text*"],
  },
  {
    kind: "state",
    title: "Work before main",
    why: "The order of packages decides it.",
    builtins: ["init"],
  },
  {
    kind: "state",
    title: "Chance",
    why: "The same seed gives other numbers elsewhere.",
    packages: ["math/rand*", "crypto/rand"],
  },
  {
    kind: "library",
    title: "Regular expressions",
    why: "This dialect has no look-around and no back reference.",
    packages: ["regexp*"],
  },
  {
    kind: "library",
    title: "Templates and encodings by tags",
    why: "Field tags decide names and what is left out.",
    packages: ["encoding/*", "text/template", "html/template"],
  },
];
