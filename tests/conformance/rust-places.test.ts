/** Hard cases in Rust: borrows, enums, traits, modules, panics, state, compile errors. */
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type StartedSide, startSide } from "./side";

const LIB = `//! A crate with a library.
#![forbid(unsafe_code)]
use std::cell::RefCell;
use std::collections::HashMap;
use std::rc::Rc;

pub mod tides;
mod wrong;

#[derive(Debug, Clone, PartialEq)]
pub enum Level { Low, High }

#[derive(Debug, Clone, Copy)]
pub enum Gate { Open = 2, Shut = 5 }

#[derive(Debug, Clone)]
pub enum Shape { Round(f64), Box { wide: f64, high: f64 }, Flat }

#[derive(Debug)]
pub enum LockError { Stuck(String), Dry }
impl std::fmt::Display for LockError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self { LockError::Stuck(who) => write!(f, "{who} is stuck"), LockError::Dry => write!(f, "dry") }
    }
}
impl std::error::Error for LockError {}

pub struct Metres(f64);
struct View<'a> { name: &'a str, parts: Vec<&'a str> }
struct Pair<T> { left: T, right: Option<T> }
pub struct Chain { value: i32, next: Option<Box<Chain>> }

fn other_level(level: Level) -> Level { if level == Level::Low { Level::High } else { Level::Low } }
fn other_gate(gate: Gate) -> Gate { match gate { Gate::Open => Gate::Shut, Gate::Shut => Gate::Open } }
fn area(shape: &Shape) -> f64 { match shape { Shape::Round(r) => 3.0 * r * r, Shape::Box { wide, high } => wide * high, Shape::Flat => 0.0 } }
fn shapes() -> Vec<Shape> { vec![Shape::Round(1.5), Shape::Box { wide: 1.0, high: 2.5 }, Shape::Flat] }
fn open_gate(name: &str) -> Result<Option<u8>, LockError> { match name { "" => Ok(None), "x" => Err(LockError::Stuck(name.to_string())), _ => Ok(Some(name.len() as u8)) } }
fn boxed(name: &str) -> Result<i32, Box<dyn std::error::Error>> { Ok(name.parse::<i32>()?) }
fn text_error(n: i32) -> Result<i32, String> { if n > 0 { Ok(n) } else { Err("too small".into()) } }
fn metres(m: Metres) -> Metres { Metres(m.0 * 2.0) }
fn view<'a>(text: &'a str) -> View<'a> { View { name: text, parts: text.split(' ').collect() } }
fn first_word<'a>(words: &'a [&'a str]) -> Option<&'a str> { words.first().copied() }
fn show_view(view: &View<'_>) -> String { format!("{}:{}", view.name, view.parts.len()) }
fn pair(n: i32) -> Pair<i32> { Pair { left: n, right: None } }
fn length(chain: &Chain) -> i32 { chain.value + chain.next.as_ref().map_or(0, |next| length(next)) }
fn evens(up_to: u32) -> impl Iterator<Item = u32> { (0..up_to).filter(|n| n % 2 == 0) }
fn sum_of(numbers: impl Iterator<Item = i64>) -> i64 { numbers.sum() }
fn named(name: impl Into<String>) -> String { name.into() + "!" }
fn generic<T: Clone>(value: T) -> T { value.clone() }
fn largest<T: PartialOrd + Copy>(list: &[T]) -> Option<T> { list.iter().copied().reduce(|a, b| if b > a { b } else { a }) }
fn total<T>(list: Vec<T>) -> T where T: std::ops::Add<Output = T> + Default { list.into_iter().fold(T::default(), |a, b| a + b) }
fn hail<S: AsRef<str>>(name: S) -> usize { name.as_ref().len() }
fn owned<S>(name: S) -> String where S: Into<String> { name.into() }
fn folded<I: IntoIterator<Item = i64>>(numbers: I) -> i64 { numbers.into_iter().sum() }
fn counts<K: std::hash::Hash + Eq + Ord, V: Into<i64> + Copy>(pairs: &[(K, V)]) -> i64 { pairs.iter().map(|(_, v)| (*v).into()).sum() }
fn filled<const N: usize>(value: i64) -> [i64; N] { [value; N] }
fn mapped<F: Fn(i64) -> i64>(change: F) -> i64 { change(1) }
fn apply(change: impl Fn(i32) -> i32) -> i32 { change(1) }
fn counted() -> u32 { static N: std::sync::atomic::AtomicU32 = std::sync::atomic::AtomicU32::new(0); N.fetch_add(1, std::sync::atomic::Ordering::SeqCst) + 1 }
fn leave(code: i32) -> i32 { std::process::exit(code) }
fn overflow(n: u8) -> u8 { n + 1 }
fn at(list: Vec<i32>, place: usize) -> i32 { list[place] }
fn shared(text: Rc<RefCell<String>>) -> String { text.borrow_mut().push('?'); text.borrow().clone() }
fn grow(list: &mut Vec<i32>, more: &[i32]) -> usize { list.extend_from_slice(more); list.len() }
fn shout(text: &mut String) -> &str { text.push('!'); text.as_str() }
fn sort(list: &mut [i32]) { list.sort(); }
fn letters(text: &str) -> HashMap<char, u32> { let mut all = HashMap::new(); for c in text.chars() { *all.entry(c).or_default() += 1; } all }
fn squares(n: u64) -> HashMap<u64, u64> { (1..=n).map(|k| (k, k * k)).collect() }
fn widest(n: u128) -> i128 { -(n as i128) }
fn letter(c: char) -> (char, u32) { (c, c as u32) }
fn optional(name: Option<&str>, times: Option<u8>) -> String { name.unwrap_or("-").repeat(times.unwrap_or(1) as usize) }
fn fixed(row: [i32; 3]) -> [i32; 2] { [row[0], row[2]] }
async fn later(n: i32) -> i32 { n + 1 }
const fn constant(n: i32) -> i32 { n * 3 }

pub trait Sounds { fn sound(&self) -> String; fn twice(&self) -> String { self.sound() + &self.sound() } }
pub struct Bell { pub(crate) tone: String, strokes: u32 }
impl Bell {
    pub fn new(tone: &str) -> Result<Self, LockError> { if tone.is_empty() { Err(LockError::Dry) } else { Ok(Bell { tone: tone.to_string(), strokes: 0 }) } }
    pub fn strike(&mut self) -> &mut Self { self.strokes += 1; self }
    fn merged(self, other: Bell) -> Bell { Bell { tone: self.tone + &other.tone, strokes: self.strokes + other.strokes } }
    fn tones(&self) -> std::str::Chars<'_> { self.tone.chars() }
}
impl std::ops::Add<u32> for Bell { type Output = Bell; fn add(self, n: u32) -> Self::Output { Bell { tone: self.tone, strokes: self.strokes + n } } }
impl std::ops::Index<usize> for Bell { type Output = u32; fn index(&self, _: usize) -> &Self::Output { &self.strokes } }
fn shared_error(n: i32) -> Result<i32, Box<dyn std::error::Error + Send + Sync>> { if n > 0 { Ok(n) } else { Err("none".into()) } }
impl Sounds for Bell { fn sound(&self) -> String { self.tone.repeat(self.strokes as usize) } }
pub struct Horn;
impl Sounds for Horn { fn sound(&self) -> String { "hu".into() } }
fn heard(who: &dyn Sounds) -> String { who.sound() }
fn all_heard(first: Box<dyn Sounds>, rest: &mut dyn Sounds) -> String { first.twice() + &rest.sound() }
pub fn shared_bell(tone: &str) -> Rc<RefCell<Bell>> { Rc::new(RefCell::new(Bell { tone: tone.into(), strokes: 0 })) }

mod inner { use super::*; pub(super) fn deep(level: &Level) -> bool { *level == Level::High } }

#[cfg(test)]
mod tests { #[test] fn works() { unknown_thing!(); } }
`;

const TIDES = `use std::sync::Mutex;
static SEEN: Mutex<Vec<String>> = Mutex::new(Vec::new());
pub fn see(name: &str) -> usize { let mut seen = SEEN.lock().unwrap(); seen.push(name.to_string()); seen.len() }
pub fn fine() -> i32 { 1 }
pub fn bad() -> i32 { "text" }
pub fn uses_bad() -> i32 { bad() + 1 }
`;

const WRONG = "pub fn never() -> i32 { 1 \n\npub struct {{{\n";

describe("Rust", () => {
  let side: StartedSide;
  beforeAll(async () => {
    side = await startSide(
      "rust",
      {
        "Cargo.toml": '[package]\nname = "tide-locks"\nversion = "0.1.0"\nedition = "2021"\n',
        "src/lib.rs": LIB,
        "src/tides.rs": TIDES,
        "src/wrong.rs": WRONG,
        "src/main.rs":
          'fn helper() -> i32 { 1 }\nfn main() { println!("{}", tide_locks::tides::fine() + helper()); }\n',
      },
      {
        modules: [
          { name: "lib", original: ["src/lib.rs"] },
          { name: "tides", original: ["src/tides.rs"] },
          { name: "wrong", original: ["src/wrong.rs"] },
          { name: "main", original: ["src/main.rs"] },
        ],
      },
    );
  }, 120_000);
  afterAll(() => side?.close());

  const level = (value: string) => ({ "~obj": "Level", fields: { value } });
  it.each<[string, Parameters<StartedSide["call"]>[1][], object]>([
    ["other_level", ["Low"], { value: level("High") }],
    ["other_level", [level("High")], { value: level("Low") }],
    [
      "other_level",
      ["Mid"],
      { kind: "broken", what: expect.stringContaining('level of other_level: "Mid" is no member of Level') },
    ],
    ["other_gate", [2], { value: { "~obj": "Gate", fields: { value: 5 } } }],
    ["other_gate", [3], { kind: "broken" }],
    ["area", [{ "~obj": "Round", fields: { 0: 2 } }], { value: { "~float": "12.0" } }],
    ["area", [{ "~obj": "Box", fields: { wide: 2, high: 1.25 } }], { value: 2.5 }],
    ["area", ["Flat"], { value: { "~float": "0.0" } }],
    [
      "shapes",
      [],
      {
        value: [
          { "~obj": "Round", fields: { 0: 1.5 } },
          { "~obj": "Box", fields: { wide: { "~float": "1.0" }, high: 2.5 } },
          { "~obj": "Flat", fields: {} },
        ],
      },
    ],
    ["open_gate", [""], { value: null }],
    ["open_gate", ["ebb"], { value: 3 }],
    ["open_gate", ["x"], { thrown: { kind: "LockError", message: "x is stuck" } }],
    ["boxed", ["12"], { value: 12 }],
    ["boxed", ["?"], { thrown: { kind: "Error", message: "invalid digit found in string" } }],
    ["shared_error", [0], { thrown: { kind: "Error", message: "none" } }],
    ["text_error", [0], { thrown: { kind: "String", message: "too small" } }],
    ["metres", [1.5], { value: { "~obj": "Metres", fields: { 0: { "~float": "3.0" } } } }],
    ["view", ["a b"], { value: { "~obj": "View", fields: { name: "a b", parts: ["a", "b"] } } }],
    ["first_word", [["x", "y"]], { value: "x" }],
    ["show_view", [{ name: "n", parts: ["p"] }], { value: "n:1" }],
    ["pair", [4], { value: { "~obj": "Pair", fields: { left: 4, right: null } } }],
    ["length", [{ value: 1, next: { value: 2, next: null } }], { value: 3 }],
    ["evens", [5], { value: [0, 2, 4] }],
    ["sum_of", [[1, 2, 3]], { value: 6 }],
    ["named", ["ebb"], { value: "ebb!" }],
    ["generic", [1], { value: 1 }],
    ["generic", ["ebb"], { value: "ebb" }],
    ["generic", [true], { kind: "broken", what: expect.stringContaining("generic") }],
    ["largest", [[3, 9, 4]], { value: 9 }],
    ["largest", [[0.5, 0.25]], { value: 0.5 }],
    ["largest", [[]], { value: null }],
    ["total", [[1, 2]], { value: 3 }],
    ["total", [[1.5, 2]], { value: 3.5 }],
    ["hail", ["tern"], { value: 4 }],
    ["owned", ["tern"], { value: "tern" }],
    ["folded", [[1, 2, 3]], { value: 6 }],
    ["counts", [[{ "~tuple": ["a", 2] }, { "~tuple": ["b", 3] }]], { value: 5 }],
    ["filled", [1], { kind: "broken", what: expect.stringContaining("it is generic in N") }],
    ["mapped", [1], { kind: "broken", what: expect.stringContaining("its type F is a function") }],
    ["apply", [null], { kind: "broken", what: expect.stringContaining("its parameter change is a function") }],
    ["leave", [3], { kind: "broken", why: "ended", what: "it ended the process: exit(3)" }],
    ["overflow", [255], { thrown: { kind: "panic", message: "attempt to add with overflow" } }],
    [
      "overflow",
      [256],
      { kind: "broken", what: expect.stringContaining("n of overflow: 256 is out of the range of u8") },
    ],
    [
      "at",
      [[1], 3],
      {
        thrown: {
          kind: "panic",
          message: expect.stringContaining("index out of bounds"),
          trace: expect.stringContaining("src/lib.rs:"),
        },
      },
    ],
    ["shared", ["ebb"], { value: "ebb?" }],
    [
      "grow",
      [[1], [2, 3]],
      {
        value: 3,
        args: [
          [1, 2, 3],
          [2, 3],
        ],
      },
    ],
    ["shout", ["ebb"], { value: "ebb!", args: ["ebb!"] }],
    ["sort", [[3, 1, 2]], { value: null, args: [[1, 2, 3]] }],
    ["letters", ["aba"], { value: { a: 2, b: 1 } }],
    [
      "squares",
      [2],
      {
        value: {
          "~map": [
            [1, 1],
            [2, 4],
          ],
        },
      },
    ],
    ["widest", [{ "~int": "18446744073709551616" }], { value: { "~int": "-18446744073709551616" } }],
    ["letter", ["𝔘"], { value: { "~tuple": ["𝔘", 120088] } }],
    ["letter", ["ab"], { kind: "broken" }],
    ["optional", [null, 2], { value: "--" }],
    ["fixed", [[1, 2, 3]], { value: [1, 3] }],
    ["fixed", [[1, 2]], { kind: "broken", what: expect.stringContaining("has 2 items, not 3") }],
    ["later", [1], { value: 2 }],
    ["constant", [2], { value: 6 }],
    ["heard", [{ "~obj": "Bell", fields: { tone: "do", strokes: 2 } }], { value: "dodo" }],
    [
      "heard",
      [{ "~obj": "Drum", fields: {} }],
      { kind: "broken", what: expect.stringContaining("no type Drum is known") },
    ],
    [
      "all_heard",
      [
        { "~obj": "Horn", fields: {} },
        { "~obj": "Horn", fields: {} },
      ],
      { value: "huhuhu" },
    ],
    ["deep", ["High"], { value: true }],
  ])("%s(%j)", async (name, args, expected) => {
    expect(await side.call(name, ...args)).toMatchObject(expected);
  });

  it("makes objects by their makers, lends them, gives them away, and reads their fields", async () => {
    const { steps } = await side.steps([
      { new: "Bell", args: ["do"], as: "a" },
      { new: "Bell", args: [""], as: "none" },
      { call: "strike", on: "a" },
      { call: "sound", on: "a" },
      { get: "strokes", on: "a" },
      { set: "strokes", on: "a", value: 3 },
      { call: "shared_bell", args: ["re"], as: "b" },
      { call: "strike", on: "b" },
      { call: "sound", on: "b" },
      { new: "Bell", args: ["mi", 2], as: "c" },
      { call: "merged", on: "a", args: [{ "~as": "c" }], as: "d" },
      { get: "tone", on: "d" },
      { call: "add", on: "d", args: [10], as: "e" },
      { get: "strokes", on: "e" },
      { call: "index", on: "e", args: [0] },
    ]);
    expect(steps.map((step) => step.value ?? step.thrown?.kind)).toEqual([
      { "~obj": "new", fields: {} },
      "LockError",
      { "~obj": "Bell", fields: { tone: "do", strokes: 1 } },
      "do",
      1,
      undefined,
      { "~obj": "Bell", fields: { tone: "re", strokes: 0 } },
      { "~obj": "Bell", fields: { tone: "re", strokes: 1 } },
      "re",
      { "~obj": "new", fields: {} },
      { "~obj": "Bell", fields: { tone: "domi", strokes: 5 } },
      "domi",
      { "~obj": "Bell", fields: { tone: "domi", strokes: 15 } },
      15,
      15,
    ]);
  });

  it("gives each case its variables as they were loaded", async () => {
    expect((await side.call("counted")).value).toBe(1);
    expect((await side.call("counted")).value).toBe(1);
    expect((await side.callIn("tides", "see", "x")).value).toBe(1);
    expect((await side.callIn("tides", "see", "y")).value).toBe(1);
  });

  it("breaks only the function or the file that does not compile", async () => {
    expect((await side.callIn("tides", "fine")).value).toBe(1);
    const bad = await side.callIn("tides", "bad");
    expect(bad).toMatchObject({ kind: "broken", what: expect.stringMatching(/src\/tides\.rs:5: mismatched types/) });
    expect(await side.callIn("wrong", "never")).toMatchObject({
      kind: "broken",
      what: expect.stringContaining("src/wrong.rs:"),
    });
    expect(await side.callIn("main", "helper")).toMatchObject({
      kind: "broken",
      what: expect.stringContaining("move them to the library"),
    });
  });

  it("fixes the clock", async () => {
    const source =
      "use std::time::*;\npub fn now() -> u64 { SystemTime::now().duration_since(UNIX_EPOCH).unwrap().as_millis() as u64 }\n";
    const fixed = await startSide("rust", { "t.rs": source }, { port: { now: "2031-04-02T08:00:00.250+02:00" } });
    expect((await fixed.call("now")).value).toBe(Date.UTC(2031, 3, 2, 6, 0, 0, 250));
    fixed.close();
  }, 60_000);

  it("builds a plain folder of files that do not name each other", async () => {
    const plain = await startSide("rust", {
      "fares.rs": "pub fn fare(km: u32) -> u32 { km * 3 }\n",
      "zones.rs": "use crate::fares::fare;\npub fn zone(km: u32) -> u32 { fare(km) / 10 }\n",
    });
    expect((await plain.callIn("zones", "zone", 10)).value).toBe(3);
    plain.close();
  }, 60_000);
});
