/** Platform-bound items of Ruby. */
import type { SnagRule } from "@/core/survey/snags/snag";

export const ruby: readonly SnagRule[] = [
  {
    kind: "host",
    title: "Files, processes and the network",
    why: "Paths, encodings and line ends differ.",
    packages: ["fileutils", "pathname", "tempfile", "tmpdir", "open3", "socket", "net/*", "etc", "io/*"],
    builtins: ["File.*", "Dir.*", "IO.*", "Process.*", "Kernel.*", "ENV", "ARGV"],
  },
  {
    kind: "dynamic",
    title: "Methods made and found at run time",
    why: "Another language needs a table or an interface.",
    builtins: ["ObjectSpace.*", "Module.*", "Class.new", "Binding.*", "Method.*"],
    syntax: ["singleton_class"],
  },
  {
    kind: "flow",
    title: "Errors as control flow",
    why: "A handler that only catches to go on often becomes a test.",
    syntax: ["rescue", "rescue_modifier", "retry", "redo"],
  },
  {
    kind: "flow",
    title: "Blocks",
    why: "A block is a closure that may return from around it.",
    syntax: ["yield"],
  },
  {
    kind: "numbers",
    title: "Numbers without a limit",
    why: "Integers grow; rational and decimal numbers are types of their own.",
    packages: ["bigdecimal*", "rational", "complex", "prime", "matrix"],
    builtins: ["Integer.*", "Rational", "Complex", "Float.*"],
  },
  {
    kind: "threads",
    title: "Threads and fibers",
    why: "The lock of the interpreter hides races.",
    packages: ["thread", "monitor", "timeout", "async"],
    builtins: ["Thread.*", "Fiber.*", "Mutex.*", "Queue.*", "Ractor.*"],
  },
  {
    kind: "time",
    title: "Clock and time zones",
    why: "A Time carries an offset.",
    packages: ["time", "date"],
    builtins: ["Time.*", "Date.*", "DateTime.*"],
  },
  {
    kind: "locale",
    title: "Encodings",
    why: "Each text has an encoding of its own.",
    builtins: ["Encoding.*"],
  },
  {
    kind: "state",
    title: "Global variables",
    why: "They are shared by all, some of them by the interpreter.",
    syntax: ["global_variable", "class_variable"],
  },
  {
    kind: "state",
    title: "Chance",
    why: "The same seed gives other numbers elsewhere.",
    packages: ["securerandom"],
    builtins: ["Random.*"],
  },
  {
    kind: "library",
    title: "Regular expressions",
    why: "Dialects differ in look-around and what matches a line.",
    syntax: ["regex"],
    builtins: ["Regexp.*"],
  },
  {
    kind: "library",
    title: "Marshalled data and templates",
    why: "Formats of the language's own have no reader elsewhere.",
    packages: ["erb", "yaml", "psych", "pstore", "dbm", "drb"],
    builtins: ["Marshal.*"],
  },
];
