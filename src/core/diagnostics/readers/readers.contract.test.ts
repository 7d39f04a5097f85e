/** Every reader against its own example, and against output of the real tools, kept here as it was printed. */
import { describe, expect, it } from "vitest";
import type { Diagnostic } from "@/core/diagnostics/diagnostic";
import { READERS } from "@/core/diagnostics/readers";
import { READER_NAMES } from "@/core/formats/port-file";

const ESC = String.fromCharCode(27);
const read = (name: string, text: string, terms: { pattern?: string; root?: string } = {}) => {
  const found = READERS.find((reader) => reader.name === name)?.read(
    { stdout: "", stderr: text },
    { root: "/p", ...terms },
  );
  if (!found) throw new Error(`no reader ${name}`);
  return found;
};
const short = ({ file, line, column, severity, code, message }: Diagnostic) => [
  `${file}:${line}:${column}`,
  severity,
  code,
  message,
];

describe("the readers of diagnostics", () => {
  it("are all that the port file names", () => {
    expect(READERS.map(({ name }) => name).sort()).toEqual([...READER_NAMES].sort());
  });

  describe.each(READERS.map((reader) => [reader.name, reader] as const))("%s", (_, reader) => {
    const terms = { root: "/p", pattern: "^(?<file>\\S+) @ (?<line>\\d+): (?<message>.*)$" };
    it("finds its example, and leaves what it does not understand as text", () => {
      const { diagnostics, rest } = reader.read({ stdout: reader.example.text, stderr: "" }, terms);
      expect(diagnostics).toHaveLength(1);
      expect(diagnostics[0]).toMatchObject(reader.example.finds);
      expect(rest).toEqual([reader.example.leaves]);
      expect(reader.title.length).toBeGreaterThan(1);
    });

    it("reads the same with other line ends and colours, and nothing in nothing", () => {
      const plain = reader.read({ stdout: reader.example.text, stderr: "" }, terms).diagnostics;
      const coloured = reader.example.text
        .replace(/^(?=[^{[\s])/gm, `${ESC}[1m${ESC}[31m`)
        .replace(/\n/g, `${ESC}[0m\r\n`);
      const text =
        reader.example.text.startsWith("{") || reader.example.text.startsWith("[")
          ? reader.example.text.replace(/\n/g, "\r\n")
          : coloured;
      expect(reader.read({ stdout: text, stderr: "" }, terms).diagnostics).toEqual(plain);
      expect(reader.read({ stdout: "", stderr: "" }, terms)).toEqual({ diagnostics: [], rest: [] });
    });

    it("takes no longer than linear time for many", () => {
      const many = reader.example.text.repeat(2000);
      expect(reader.read({ stdout: many, stderr: "" }, terms).diagnostics.length).toBeGreaterThan(0);
    });
  });
});

describe("output of the real tools", () => {
  it("of tsc, pretty: code excerpts are left out, related places are notes", () => {
    const text = [
      `${ESC}[96mo.ts${ESC}[0m:${ESC}[93m2${ESC}[0m:${ESC}[93m7${ESC}[0m - ${ESC}[91merror${ESC}[0m${ESC}[90m TS2322: ${ESC}[0mType 'string' is not assignable to type 'number'.`,
      "",
      `${ESC}[7m2${ESC}[0m const n: number = "a";`,
      `${ESC}[7m ${ESC}[0m ${ESC}[91m      ~${ESC}[0m`,
      "",
      `  ${ESC}[96mo.ts${ESC}[0m:${ESC}[93m1${ESC}[0m:${ESC}[93m1${ESC}[0m`,
      "    1 declare x;",
      "",
      "Found 1 error in o.ts:2",
    ].join("\n");
    expect(read("tsc", text).diagnostics.map(short)).toEqual([
      ["o.ts:2:7", "error", "TS2322", "Type 'string' is not assignable to type 'number'."],
      ["o.ts:1:1", "note", null, ""],
    ]);
  });

  it("of tsc, plain: indented lines continue a message", () => {
    const text = "a.ts(1,2): error TS2345: No overload.\n  Overload 1 of 2.\nerror TS18003: No inputs were found.\n";
    expect(read("tsc", text).diagnostics.map(short)).toEqual([
      ["a.ts:1:2", "error", "TS2345", "No overload.\n  Overload 1 of 2."],
      [":null:null", "error", "TS18003", "No inputs were found."],
    ]);
  });

  it("of gcc: the way to an included file and excerpts are left out, notes and the linker are read", () => {
    const text = [
      "In file included from src/a.c:1:",
      "src/a.h: In function ‘f’:",
      "src/a.h:3:9: error: ‘x’ undeclared (first use in this function)",
      "    3 |     int n = x;",
      "      |             ^",
      "src/a.h:3:9: note: each undeclared identifier is reported only once",
      "src/b.c:2:5: error: unused variable ‘n’ [-Werror=unused-variable]",
      "src/c.c:1:10: fatal error: none.h: No such file or directory",
      "compilation terminated.",
      "/usr/bin/ld: /tmp/x.o: in function `main':",
      "main.c:(.text+0x5): undefined reference to `go'",
      "collect2: error: ld returned 1 exit status",
      "cc1: all warnings being treated as errors",
    ].join("\n");
    const { diagnostics, rest } = read("gcc", text);
    expect(diagnostics.map(short)).toEqual([
      ["src/a.h:3:9", "error", null, "‘x’ undeclared (first use in this function)"],
      ["src/a.h:3:9", "note", null, "each undeclared identifier is reported only once"],
      ["src/b.c:2:5", "error", "-Wunused-variable", "unused variable ‘n’"],
      ["src/c.c:1:10", "error", null, "none.h: No such file or directory"],
      ["main.c:null:null", "error", null, "undefined reference to `go'"],
    ]);
    expect(rest).toEqual([]);
  });

  it("of clang", () => {
    const text =
      "a.c:1:15: warning: unused parameter 'n' [-Wunused-parameter]\nint f(int n) { return 0; }\n          ^\n1 warning generated.\n";
    expect(read("gcc", text).diagnostics.map(short)).toEqual([
      ["a.c:1:15", "warning", "-Wunused-parameter", "unused parameter 'n'"],
    ]);
  });

  it("of javac, and of Maven", () => {
    const text =
      'A.java:3: error: incompatible types: String cannot be converted to int\n    int n = "a";\n            ^\nA.java:9: warning: [deprecation] f() in B has been deprecated\n    f();\n    ^\n1 error\n1 warning\n';
    expect(read("javac", text).diagnostics.map(short)).toEqual([
      ["A.java:3:13", "error", null, "incompatible types: String cannot be converted to int"],
      ["A.java:9:5", "warning", "deprecation", "f() in B has been deprecated"],
    ]);
    expect(
      read("javac", "[ERROR] /p/src/A.java:[7,12] cannot find symbol\n[INFO] 1 error\n").diagnostics.map(short),
    ).toEqual([["/p/src/A.java:7:12", "error", null, "cannot find symbol"]]);
  });

  it("of Python: the innermost frame of the side's own counts", () => {
    const text =
      'Traceback (most recent call last):\n  File "/p/main.py", line 4, in <module>\n    go()\n  File "/p/lib/tide.py", line 9, in go\n    return json.loads("x")\n           ^^^^^^^^^^^^^^^\n  File "/usr/lib/python3.11/json/decoder.py", line 355, in raw_decode\n    raise JSONDecodeError("Expecting value", s, err.value)\njson.decoder.JSONDecodeError: Expecting value: line 1\n';
    expect(read("python", text).diagnostics.map(short)).toEqual([
      ["/p/lib/tide.py:9:null", "error", "JSONDecodeError", "Expecting value: line 1"],
    ]);
    expect(
      read("python", "Sorry: IndentationError: unexpected indent (a.py, line 2)\n").diagnostics.map(short),
    ).toEqual([["a.py:2:null", "error", "IndentationError", "unexpected indent"]]);
  });

  it("of PHP, which says things twice, and of two generations of Ruby", () => {
    const php =
      "PHP Warning:  Undefined variable $x in /p/a.php on line 3\nWarning: Undefined variable $x in /p/a.php on line 3\nNo syntax errors detected in b.php\n";
    expect(read("php", php).diagnostics.map(short)).toEqual([
      ["/p/a.php:3:null", "warning", "Warning", "Undefined variable $x"],
    ]);
    const ruby = "a.rb:2: syntax error, unexpected end-of-input\na.rb:1: warning: unused literal ignored\nSyntax OK\n";
    expect(read("ruby", ruby).diagnostics.map(short)).toEqual([
      ["a.rb:2:null", "error", null, "syntax error, unexpected end-of-input"],
      ["a.rb:1:null", "warning", null, "unused literal ignored"],
    ]);
    expect(
      read(
        "ruby",
        "a.rb: --> a.rb\na.rb:2: syntax errors found (SyntaxError)\n  1 | def f\n> 2 | \n    | ^ expected an `end`\n",
      ).diagnostics.map(short),
    ).toEqual([["a.rb:2:null", "error", "SyntaxError", "syntax errors found\nexpected an `end`"]]);
  });

  it("of go vet and go build", () => {
    expect(
      read(
        "go",
        "# tide\nvet: ./a.go:3:2: undefined: x\n./b.go:5:9: cannot use y\n\thave int\n\twant string\n",
      ).diagnostics.map(short),
    ).toEqual([
      ["./a.go:3:2", "error", null, "undefined: x"],
      ["./b.go:5:9", "error", null, "cannot use y\nhave int\nwant string"],
    ]);
  });
});
