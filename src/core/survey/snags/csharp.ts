/** Platform-bound items of C#. */
import type { SnagRule } from "@/core/survey/snags/snag";

export const csharp: readonly SnagRule[] = [
  {
    kind: "host",
    title: "Files, processes and the network",
    why: "Streams and sockets have other counterparts elsewhere.",
    packages: ["System.IO*", "System.Net*", "System.Diagnostics*", "Microsoft.Win32*"],
    builtins: ["Console.*", "Environment.*", "File.*", "Directory.*", "Path.*", "Process.*"],
  },
  {
    kind: "dynamic",
    title: "Reflection and dynamic code",
    why: "Another language needs a table or generated code.",
    packages: ["System.Reflection*", "System.Linq.Expressions", "System.Dynamic"],
    builtins: ["Activator.*", "Type.*", "Assembly.*"],
  },
  {
    kind: "dynamic",
    title: "Calls into native code",
    why: "They are bound to a system library.",
    packages: ["System.Runtime.InteropServices"],
  },
  {
    kind: "flow",
    title: "Errors as control flow",
    why: "A handler that only catches to go on often becomes a test.",
    syntax: ["catch_clause"],
  },
  {
    kind: "flow",
    title: "Generators and waiting",
    why: "The compiler makes a state machine of them.",
    syntax: ["yield_statement", "await_expression"],
    packages: ["System.Threading.Tasks"],
  },
  {
    kind: "numbers",
    title: "Decimal and big numbers",
    why: "A counterpart must round the same way; checked arithmetic throws.",
    packages: ["System.Numerics"],
    builtins: ["Convert.*", "BitConverter.*"],
    syntax: ["checked_statement"],
  },
  {
    kind: "threads",
    title: "Threads and locks",
    why: "The memory model and the locks are the runtime's.",
    packages: ["System.Threading*", "System.Collections.Concurrent"],
    syntax: ["lock_statement"],
  },
  {
    kind: "time",
    title: "Clock and time zones",
    why: "A DateTime may be local, universal or neither.",
    builtins: ["DateTime", "DateTime.*", "DateTimeOffset.*", "TimeZoneInfo.*", "TimeSpan.*", "Stopwatch.*"],
  },
  {
    kind: "locale",
    title: "Locale and text forms",
    why: "Order, case and formats depend on the culture.",
    packages: ["System.Globalization", "System.Text.Encoding*"],
    builtins: ["CultureInfo.*", "Encoding.*"],
  },
  {
    kind: "state",
    title: "Chance",
    why: "The same seed gives other numbers elsewhere.",
    builtins: ["Random", "Random.*", "Guid.*"],
  },
  {
    kind: "library",
    title: "Queries in the language",
    why: "They are evaluated late, and again on each reading.",
    packages: ["System.Linq"],
    syntax: ["query_expression"],
  },
  {
    kind: "library",
    title: "Desktop and web frameworks",
    why: "They are bound to this platform.",
    packages: [
      "System.Windows*",
      "System.Web*",
      "Microsoft.AspNetCore*",
      "System.Data*",
      "Microsoft.EntityFrameworkCore*",
    ],
  },
];
