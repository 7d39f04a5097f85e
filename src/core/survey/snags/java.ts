/** Platform-bound items of Java. */
import type { SnagRule } from "@/core/survey/snags/snag";

export const java: readonly SnagRule[] = [
  {
    kind: "host",
    title: "Files, processes and the network",
    why: "Streams and channels have other counterparts elsewhere.",
    packages: ["java.io", "java.nio*", "java.net*", "javax.net*"],
    builtins: ["System.*", "Runtime.*", "ProcessBuilder"],
  },
  {
    kind: "dynamic",
    title: "Reflection and annotations",
    why: "Another language needs a table or generated code.",
    packages: ["java.lang.reflect", "java.lang.annotation", "java.beans"],
    builtins: ["Class.*", "ClassLoader"],
  },
  {
    kind: "flow",
    title: "Errors as control flow",
    why: "Checked exceptions have no counterpart in most languages.",
    syntax: ["catch_clause", "throws"],
  },
  {
    kind: "numbers",
    title: "Decimal and big numbers",
    why: "A counterpart must round the same way at the same digits.",
    packages: ["java.math"],
  },
  {
    kind: "numbers",
    title: "Unsigned shifts",
    why: "Integers wrap at 32 and 64 bits.",
    builtins: ["Integer.*", "Long.*", "Math.*"],
  },
  {
    kind: "threads",
    title: "Threads and locks",
    why: "The memory model and the locks are the virtual machine's.",
    packages: ["java.util.concurrent*"],
    syntax: ["synchronized_statement"],
    builtins: ["Thread", "Thread.*", "Runnable", "ThreadLocal"],
  },
  {
    kind: "time",
    title: "Clock and time zones",
    why: "Old dates count months from zero; a local time is no instant.",
    packages: ["java.time*"],
    names: [
      "java.util.Date*",
      "java.util.Calendar*",
      "java.util.TimeZone*",
      "java.util.GregorianCalendar*",
      "java.text.SimpleDateFormat*",
    ],
  },
  {
    kind: "locale",
    title: "Locale and text forms",
    why: "Order and formats depend on the locale; text is UTF-16 units here.",
    packages: ["java.text", "java.nio.charset"],
    names: ["java.util.Locale*", "java.util.ResourceBundle*"],
  },
  {
    kind: "state",
    title: "Chance",
    why: "The same seed gives other numbers elsewhere.",
    names: ["java.util.Random*", "java.util.UUID*", "java.security.SecureRandom*"],
  },
  {
    kind: "library",
    title: "Desktop and enterprise libraries",
    why: "They are bound to this platform.",
    packages: ["java.awt*", "javax.swing*", "javax.servlet*", "jakarta*", "java.sql*", "java.rmi*", "javax.naming*"],
  },
  {
    kind: "library",
    title: "Regular expressions",
    why: "Dialects differ in look-around and flags.",
    packages: ["java.util.regex"],
  },
];
