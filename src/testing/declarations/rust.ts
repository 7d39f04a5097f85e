import type { Declarations } from "@/testing/declarations/declarations";

export const rust: Declarations = {
  language: "rust",
  source: `//! Doc
use std::collections::{HashMap, BTreeMap as Tree};
use crate::money::{self, Coin, purse::*};
use super::tides as t;
pub use self::deep::Thing;
extern crate serde_json as json;
mod deep;
mod inline { pub fn inner(x: i32) -> i32 { x } pub mod more { pub struct Z; } }
pub const RATE: f64 = 3.0;
static mut COUNT: u32 = 0;
type Alias = HashMap<String, Coin>;
macro_rules! sq { ($x:expr) => { $x * $x }; }
#[derive(Debug)]
pub struct Fare<'a, T: Clone> { name: &'a str, v: T }
pub enum Tier { Low(i32), High { n: u8 } }
pub trait Priced { const K: i32 = 1; fn price(&self, n: i32) -> i32; fn twice(&self) -> i32 { self.price(2) } }
impl<'a, T: Clone> Priced for Fare<'a, T> {
    fn price(&self, mut n: i32) -> i32 {
        if n > 0 && n < 9 || n == 11 { return sq!(n); }
        for i in 0..n { if i == 3 { continue; } }
        while let Some(x) = None::<i32> { let _ = x; }
        let r = match n { 1 => 1, 2 | 3 => 2, x if x > 9 => 3, _ => t::height(n)? };
        let f = |a: i32, b| a + b;
        loop { break; }
        serde_json::to_string(&n).unwrap_or_else(|_| std::mem::take(&mut String::new()));
        f(r, 1)
    }
}
impl<T: Clone> Fare<'_, T> { pub const fn new(name: &str) -> Self { todo!() } async unsafe fn later() {} }
#[cfg(test)] mod tests { use super::*; #[test] fn works() { assert_eq!(1, 1); } }
pub(crate) fn top<F>(f: F, (a, b): (i32, i32)) -> i32 where F: Fn() -> i32 { f() }
union U { a: u8 }
`,
  sections: [
    "function inner 8-8 (x) 1",
    "class Z 8-8 () 1",
    "constant RATE 9-9 () 1",
    "constant COUNT 10-10 () 1",
    "function sq 12-12 () 1",
    "class Fare 14-14 () 1",
    "class Tier 15-15 () 1",
    "class Priced 16-16 () 1",
    "constant Priced.K 16-16 () 1",
    "method Priced.price 16-16 (n) 1",
    "method Priced.twice 16-16 () 1",
    "method Fare.price 18-27 (n) 13",
    "method Fare.new 29-29 (name) 1",
    "method Fare.later 29-29 () 1",
    "function works 30-30 () 1",
    "function top 31-31 (f, (a, b)) 1",
    "class U 32-32 () 1",
  ],
  imports: [
    "2 std::collections [HashMap, BTreeMap] HashMap=std collections HashMap, Tree=std collections BTreeMap",
    "3 crate [money] money=crate money",
    "3 crate::money [Coin] Coin=crate money Coin",
    "3 crate::money::purse [*]",
    "4 super [tides] t=super tides",
    "5 self::deep [Thing] Thing=self deep Thing",
    "6 serde_json [] json=serde_json",
    "7 self::deep []",
    "25 serde_json [] serde_json=serde_json",
    "30 super [*]",
  ],
  uses: ["11 HashMap", "11 Coin", "22 t.height", "25 serde_json.to_string", "25 std.mem.take"],
};
