/** Tests reading C: declarations, lengths and shapes, build flags. */
import { describe, expect, it } from "vitest";
import { firstComplaint, relativeTo } from "@/engine/drivers/c/compile";
import { type CDeclarations, readDeclarations, readMarks } from "@/engine/drivers/c/declarations";
import { emptyMacros, withoutMacros } from "@/engine/drivers/c/empty-macros";
import { findFlags, splitWords } from "@/engine/drivers/c/flags";
import { isLengthName, resolve, shapesOf } from "@/engine/drivers/c/shapes";
import type { BuildSide } from "@/engine/drivers/driver";
import { loadParser } from "@/engine/source/parse";
import { temporaryFolder } from "@/testing/temporary-port";

async function declarationsOf(text: string): Promise<CDeclarations> {
  const marked = readMarks(text);
  const tree = (await loadParser(["c"]))(marked.text, "c");
  if (!tree) throw new Error("no tree");
  const found = readDeclarations(tree.root, marked.placeOf);
  tree.free();
  return found;
}

describe("preprocessed text", () => {
  it("is told by file and line", () => {
    const { text, placeOf } = readMarks(
      '# 1 "src/a.c"\nint a;\n# 7 "inc/\\"q\\".h" 1\nint b;\nint c;\n# 2 "src/a.c" 2\nint d;\n',
    );
    expect(text.split("\n")).toEqual(["", "int a;", "", "int b;", "int c;", "", "int d;", ""]);
    expect([1, 3, 4, 6].map(placeOf)).toEqual([
      { file: "src/a.c", line: 1 },
      { file: 'inc/"q".h', line: 7 },
      { file: 'inc/"q".h', line: 8 },
      { file: "src/a.c", line: 2 },
    ]);
  });
});

describe("declarations", () => {
  it("follow names of types to what they are", async () => {
    const found = await declarationsOf(
      "typedef unsigned long size;\ntypedef size length;\ntypedef struct knot { int a : 3; length b; char c[4], *d; struct { int e; }; } *knots;\nstatic const length *f(knots k, int (*g)(int), char h[static 2], int grid[3][4], ...) { return 0; }\n",
    );
    const [made] = found.functions;
    expect(made).toMatchObject({ name: "f", line: 4, isStatic: true, isVariadic: true });
    expect(made?.parameters.map(({ name }) => name)).toEqual(["k", "g", "h", "grid"]);
    const kinds = made?.parameters.map(({ type }) => {
      const at = resolve(type, found);
      return at.kind === "pointer" ? `pointer to ${resolve(at.to, found).kind}` : at.kind;
    });
    expect(kinds).toEqual(["pointer to struct", "pointer to function", "pointer to number", "pointer to array"]);
    expect(made?.result).toMatchObject({ kind: "pointer", isConst: true });
    const [body] = [...found.bodies.values()].filter(({ fields }) => fields.length > 1);
    expect(body?.fields.map(({ name, bits }) => [name, bits])).toEqual([
      ["a", "int"],
      ["b", null],
      ["c", null],
      ["d", null],
      ["e", null],
    ]);
  });

  it("of parameters can be written again with another name", async () => {
    const { functions } = await declarationsOf("void f(const char *name, int cells[], int (*row)[3], unsigned) {}\n");
    expect(functions[0]?.parameters.map(({ declared }) => declared.replace("\0", "X"))).toEqual([
      "const char *X",
      "int (*X)",
      "int (*X)[3]",
      "unsigned X",
    ]);
  });
});

describe("lengths and shapes", () => {
  it.each(["n", "len", "count", "n_items", "row_count", "itemCount", "bufSize", "capacity"])(
    "%s is a length",
    (name) => {
      expect(isLengthName(name)).toBe(true);
    },
  );
  it.each(["value", "index", "number", "low", "nth", "country"])("%s is none", (name) => {
    expect(isLengthName(name)).toBe(false);
  });

  it("go with the pointer beside them, each with one", async () => {
    const found = await declarationsOf(
      "int f(const int *a, int n, int count, double *b, int *c, int limit) { return 0; }\n",
    );
    const made = found.functions[0];
    if (!made) throw new Error("no function");
    const { parameters, error } = shapesOf(made, found, undefined);
    expect(error).toBeNull();
    expect(parameters.map(({ length, lengthOf, way }) => [length, lengthOf, way])).toEqual([
      [1, null, "ST_IN"],
      [null, 0, "ST_IN"],
      [null, 3, "ST_IN"],
      [2, null, "ST_IN_OUT"],
      [null, null, "ST_IN_OUT"],
      [null, null, "ST_IN"],
    ]);
  });

  it("are what the port says, which is told where it cannot be", async () => {
    const found = await declarationsOf("char *f(char *out, int most, int *made, void *state) { return 0; }\n");
    const made = found.functions[0];
    if (!made) throw new Error("no function");
    const said = {
      out: "out, room 16",
      most: "room of out",
      made: "length of return",
      return: "bytes, freed by f_free",
    };
    const { parameters, result } = shapesOf(made, found, said);
    expect(parameters[0]).toMatchObject({ way: "ST_OUT", room: 16, length: 1 });
    expect(parameters[1]).toMatchObject({ lengthOf: 0 });
    expect(parameters[2]).toMatchObject({ way: "ST_OUT", lengthOf: "return" });
    expect(result).toMatchObject({ kind: "ST_AS_BYTES", freedBy: "f_free", length: 2 });
    expect(shapesOf(made, found, { size: "length of out" }).error).toContain("a parameter size that it does not have");
    expect(shapesOf(made, found, { most: "room of nothing" }).error).toContain("nothing");
  });
});

describe("flags", () => {
  const sideIn = (folder: string, files: readonly string[], call: BuildSide["call"] = {}): BuildSide => ({
    folder,
    files,
    call,
    shapes: { of: () => undefined, key: "" },
    memoryMb: 64,
    lines: false,
    home: folder,
    runtime: ["cc"],
    cache: folder,
    run: async () => ({ isOk: false, printed: "" }),
  });

  it("are words as a shell reads them", () => {
    expect(splitWords(`cc -DA='x y' "-I a\\"b" c\\ d  -O2`)).toEqual(["cc", "-DA=x y", '-I a"b', "c d", "-O2"]);
  });

  it("come from a Makefile's usual variables", async () => {
    const folder = temporaryFolder({
      Makefile: "CFLAGS := -std=c11 -Wall \\\n  -DDEPTH=3 -Ilib $(EXTRA)\nLDLIBS = -lz -lm # both\nall:\n\tcc x\n",
    });
    const { common, link } = await findFlags(sideIn(folder, ["Makefile", "src/a.c", "include/a.h"]), folder);
    expect(common.join(" ")).toContain(`-std=c11 -D DEPTH=3 -I ${folder}/lib`);
    expect(common.join(" ")).toContain(`-I ${folder}/include`);
    expect(common).not.toContain("-Wall");
    expect(link.slice(0, 2)).toEqual(["-lz", "-lm"]);
  });

  it("come file by file from compile_commands.json, and the port's own come first", async () => {
    const folder = temporaryFolder({
      "compile_commands.json": JSON.stringify([
        { directory: "/elsewhere", file: "x.c", command: "cc -DX -c x.c" },
        { directory: "src", file: "a.c", arguments: ["cc", "-I", "../inc", "-DA=1", "-flto", "-c", "a.c"] },
      ]).replaceAll('"src"', JSON.stringify("SRC")),
    });
    const { byFile } = await findFlags(sideIn(folder, ["src/a.c"]), folder);
    expect([...byFile.keys()]).toHaveLength(2);
    const own = await findFlags(
      sideIn(folder, ["src/a.c"], { flags: ["-O0"], include: ["inc"], link: ["-lq"] }),
      folder,
    );
    expect(own.common.slice(0, 3)).toEqual(["-O0", "-I", `${folder}/inc`]);
    expect(own.link[0]).toBe("-lq");
  });
});

it("a complaint has its place as the port names it", () => {
  const printed = "In file included from /side/a.c:1:\n/side/inc/b.h:3:5: error: unknown type name ‘knot’\n";
  expect(firstComplaint(printed, "/side")).toBe("inc/b.h:3: unknown type name ‘knot’");
  expect(firstComplaint("cc: fatal\n", "/side")).toBeNull();
  expect(relativeTo("/side", "/usr/include/x.h")).toBe("/usr/include/x.h");
});

it("macros that leave nothing are spaces to the grammar", () => {
  const text =
    "#define API\n#define MARK __attribute__((used))\n#define DEPTH 3\nclass API Knot { MARK int depth = DEPTH; };\n#ifdef API\n#endif\n";
  const names = emptyMacros([text]);
  expect([...names].sort()).toEqual(["API", "MARK"]);
  const made = withoutMacros(text, names);
  expect(made).toHaveLength(text.length);
  expect(made.split("\n")[3]).toBe("class     Knot {      int depth = DEPTH; };");
  expect(made).toContain("#ifdef API");
});
