/** Tests reading and copying Rust: modules, registration, fallbacks, crates. */

import { describe, expect, it } from "vitest";
import { cargoErrors } from "@/engine/drivers/rust/cargo-errors";
import { findCrates } from "@/engine/drivers/rust/crates";
import { instancesOf, substitute, suffixOf } from "@/engine/drivers/rust/generics";
import { SourceCopy } from "@/engine/drivers/rust/source-copy";
import { loadParser } from "@/engine/source/parse";
import { temporaryFolder } from "@/testing/temporary-port";

const SOURCE = `#[cfg(test)]
mod tests { fn hidden() {} }
pub mod far;
mod near { pub fn inner(n: u8) -> u8 { n } }
static SEEN: std::sync::atomic::AtomicU32 = std::sync::atomic::AtomicU32::new(0);
struct Knot<'a> { name: &'a str }
impl<'a> Knot<'a> {
    async fn tie(&mut self, times: u8) -> Self { todo!() }
}
impl<T> From<T> for Other { fn from(t: T) -> Self { Other } }
fn first<T>(all: &[T]) -> Option<&T> {
    all.first()
}
fn short() -> i32 { 1 }
`;

const copyOf = async (text: string, probes: { file: string; line: number }[] | null = null) =>
  new SourceCopy("src/lib.rs", text, await loadParser(["rust"]), probes);

describe("a Rust module", () => {
  it("is read with its methods, types, modules and state, without its tests", async () => {
    const { module } = await copyOf(SOURCE);
    expect(module.functions.map(({ name, self, refused }) => [name, self, refused])).toEqual([
      ["Knot.tie", "mut", null],
      ["Other.from", null, "its type is generic"],
      // Once for each type that it is called with.
      ["first", null, null],
      ["first", null, null],
      ["first", null, null],
      ["short", null, null],
    ]);
    expect(module.functions[0]).toMatchObject({
      isAsync: true,
      owner: "Knot<'a>",
      parameters: [{ name: "times", type: "u8" }],
    });
    expect(module.types).toMatchObject([
      { name: "Knot", lifetimes: ["'a"], variants: [{ fields: [{ name: "name" }] }] },
    ]);
    expect([module.children, module.inner.map(({ name }) => name)]).toEqual([["far"], ["near"]]);
    expect(module.statics).toBe("plain");
  });

  it.each([
    ["static A: Mutex<Vec<u8>> = Mutex::new(Vec::new());", "deep"],
    ["static mut COUNT: u32 = 0;", "plain"],
    ['static NAMES: [&str; 2] = ["a", "b"];', "none"],
    ["thread_local! { static X: u8 = 1; }", "deep"],
    ["fn f() -> u32 { static N: AtomicU32 = AtomicU32::new(0); N.load(SeqCst) }", "plain"],
    ["impl A { fn f() { static L: OnceLock<u8> = OnceLock::new(); } }", "deep"],
    ["fn f() { thread_local!(static X: u8 = 1); }", "deep"],
    ["macro_rules! kept { () => { static N: u8 = 0; } }", "deep"],
    ["fn f(x: &'static str) {}", "none"],
    ["mod m { static mut LIST: [u8; 4] = [0; 4]; }", "plain"],
  ])("%s: its state is %s", async (text, statics) => {
    expect((await copyOf(text)).module.statics).toBe(statics);
  });
});

describe("a copy", () => {
  it("keeps every line, and registers modules of their own and within", async () => {
    const copy = await copyOf(SOURCE);
    const text = copy.text();
    const lines = text.split("\n");
    for (const [at, line] of SOURCE.split("\n").entries())
      if (!line.startsWith("mod near")) expect(lines[at]).toBe(line);
    expect(lines[3]).toMatch(
      /^mod near \{ pub fn inner\(n: u8\) -> u8 \{ n \} {2}#\[allow\(warnings\)\] pub mod zz_side_twin_names/,
    );
    expect(text).toContain("super::far::zz_side_twin_names::register(r);");
    expect(
      text.match(/r\.function\("src\/lib\.rs", "first", &\["all"\], \|c\| \{ let mut p0 = zz::arg!\(c, 0, [^)]*\)/g),
    ).toEqual(
      ["Vec<i64>", "Vec<f64>", "Vec<String>"].map(
        (type) => `r.function("src/lib.rs", "first", &["all"], |c| { let mut p0 = zz::arg!(c, 0, ${type})`,
      ),
    );
    expect(text).not.toContain('"hidden"');
  });

  it("leaves out a body, then the item, then the file, line by line as the compiler says", async () => {
    const copy = await copyOf(SOURCE);
    copy.text();
    const at = (line: number) => ({ file: "src/lib.rs", line, column: 5, what: "no" });
    expect(copy.leaveOut(at(12))).toBe(true);
    expect(copy.text().split("\n")[11]).toBe("panic!()       ");
    expect(copy.text()).toContain('"first", "src/lib.rs:12: no"');
    expect(copy.leaveOut(at(12))).toBe(true);
    expect(copy.text()).not.toContain("fn first<T>");
    expect(copy.leaveOut(at(6))).toBe(true);
    expect(copy.text().split("\n")[5]?.trim()).toBe("");
    expect(copy.leaveOut({ ...at(100), line: 1, column: 1 })).toBe(true);
    expect(copy.complaint).toBe("src/lib.rs:1: no");
    expect(copy.leaveOut(at(1))).toBe(false);
  });

  it("has a probe before each statement where lines are told", async () => {
    const probes: { file: string; line: number }[] = [];
    const copy = await copyOf(
      "fn f(n: i32) -> i32 {\n    let x = n;\n    if x > 1 { x } else { 2 }\n}\nconst fn g() -> i32 { 1 }\n",
      probes,
    );
    expect(copy.text()).toContain("::zz_side_twin::hit(0); let x = n;");
    expect(probes.map(({ line }) => line)).toEqual([2, 3, 3, 3]);
    expect(copy.text()).toContain("const fn g() -> i32 { 1 }");
  });
});

it("errors are told where a macro was used, and those of other crates left aside", () => {
  const shadow = temporaryFolder({ "a/src/lib.rs": "" });
  const span = (file_name: string, more: object = {}) => ({
    file_name,
    line_start: 3,
    column_start: 4,
    is_primary: true,
    ...more,
  });
  const message = (spans: object[], level = "error") =>
    JSON.stringify({
      reason: "compiler-message",
      manifest_path: `${shadow}/a/Cargo.toml`,
      message: { level, message: "bad", spans },
    });
  const printed = [
    "   Compiling a",
    message([span("/lib/macros.rs", { expansion: { span: span("src/lib.rs", { line_start: 9 }) } })]),
    message([span("src/lib.rs")], "warning"),
    message([span("/lib/other.rs"), span("src/lib.rs", { is_primary: false })]),
    '{"reason":"build-finished","success":false}',
  ].join("\n");
  expect(cargoErrors(printed, shadow)).toEqual([{ file: "a/src/lib.rs", line: 9, column: 4, what: "bad" }]);
});

describe("crates", () => {
  const none = () => [];
  it("are those of the manifests, programs as libraries", async () => {
    const folder = temporaryFolder({
      "Cargo.toml": '[workspace]\nmembers = ["a", "b"]\n',
      "a/Cargo.toml": '[package]\nname = "tide-a"\n[lib]\nname = "tide"\npath = "code/top.rs"\n',
      "b/Cargo.toml": '[package]\nname = "tide-b" # a program\n',
    });
    expect((await findCrates(folder, ["b/Cargo.toml", "b/src/main.rs"], none))[0]?.isOpen).toBe(false);
    const files = ["Cargo.toml", "a/Cargo.toml", "a/code/top.rs", "a/src/main.rs", "b/Cargo.toml", "b/src/main.rs"];
    const crates = await findCrates(folder, files, none);
    expect(crates.map(({ name, library, root }) => [name, library, root])).toEqual([
      ["tide-a", "tide", "a/code/top.rs"],
      ["tide-b", "tide_b", "b/src/main.rs"],
    ]);
    expect(crates[0]?.complaints[0]?.what).toContain("move them to the library");
    expect(crates[1]?.manifest("/driver")).toContain(
      '[lib]\npath = "src/main.rs"\n[dependencies.zz_side_twin]\npath = "/driver"',
    );
  });

  it.each([
    ['[dependencies]\nother = { path = "../other" }\n[dev-dependencies]\nx = "1"', false],
    ['[dependencies]\nrand = "0.8"', true],
    ["[dependencies]\nrand.workspace = true", true],
    ['[dependencies.rand]\nversion = "0.8"', true],
    ['[target.x.dependencies]\nlibc = "0.2"', true],
    ['[dependencies.own]\npath = "../own"', false],
  ])("%j rests on code whose state is not known: %s", async (dependencies, isOpen) => {
    const folder = temporaryFolder({ "Cargo.toml": `[package]\nname = "a"\n${dependencies}\n` });
    expect((await findCrates(folder, ["Cargo.toml", "src/lib.rs"], none))[0]?.isOpen).toBe(isOpen);
  });

  it("of a plain folder is one of all files that no other declares", async () => {
    const folder = temporaryFolder({});
    const children = (file: string) => (file === "b.rs" ? ["inner"] : []);
    const [crate] = await findCrates(folder, ["a.rs", "b.rs", "b/inner.rs", "sub/a.rs"], children);
    expect(crate?.root).toBe("zz_side_twin_root.rs");
    const [, text] = crate?.made[0] ?? [];
    expect(text?.match(/pub mod \w+;/g)).toEqual(["pub mod a;", "pub mod b;", "pub mod a_2;"]);
    const [program] = await findCrates(folder, ["main.rs", "a.rs"], none);
    expect([program?.root, program?.made]).toEqual(["main.rs", []]);
  });
});

describe("the types of a generic function", () => {
  const of = (name: string, bounds: string) => ({ name, bounds });

  it("are those that its bounds ask for, else numbers and texts in turn", () => {
    expect(instancesOf([])).toEqual([{}]);
    expect(instancesOf([of("T", ": Copy + Ord")])).toEqual([{ T: "i64" }, { T: "f64" }, { T: "String" }]);
    expect(instancesOf([of("S", ": AsRef<str>"), of("P", ": AsRef<Path>")])).toEqual([
      { S: "String", P: "std::path::PathBuf" },
    ]);
    expect(instancesOf([of("B", ": AsRef<[u8]>")])).toEqual([{ B: "Vec<u8>" }]);
    expect(instancesOf([of("S", ": Into<Option<u8>>")])).toEqual([{ S: "Option<u8>" }]);
    expect(instancesOf([of("I", ": IntoIterator<Item = (u8, i8)>")])).toEqual([
      { I: "impl IntoIterator<Item = (u8, i8)>" },
    ]);
    expect(instancesOf([of("K", ": Hash"), of("V", ": Copy")])).toHaveLength(4);
    expect(instancesOf([of("K", ": Hash"), of("V", ": Copy")])).toContainEqual({ K: "String", V: "i64" });
  });

  it("are none for functions, files and futures", () => {
    expect(instancesOf([of("F", ": Fn(i64) -> i64")])).toBe("its type F is a function");
    expect(instancesOf([of("R", ": std::io::BufRead")])).toBe("it is generic in R");
  });

  it("take the place of whole names only", () => {
    expect(substitute("&[T], Tail, Vec<T>", { T: "i64" })).toBe("&[i64], Tail, Vec<i64>");
    expect(suffixOf({ T: "i64", S: "String" })).toBe("<i64, String>");
    expect(suffixOf({})).toBe("");
  });
});
