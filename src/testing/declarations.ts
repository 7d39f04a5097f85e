/** Sources with every manner of declaring, importing and using that a language has, and what is there, gone through by hand. */

export type Declarations = {
  readonly language: string;
  readonly source: string;
  /** Kind, name, lines, parameters, cyclomatic complexity. */
  readonly sections: readonly string[];
  /** Line, what from, names, and what each is called in the file. */
  readonly imports: readonly string[];
  readonly uses: readonly string[];
};

export const DECLARATIONS: readonly Declarations[] = [
  {
    language: "php",
    source: String.raw`<?php
declare(strict_types=1);
namespace Harbour\Fares;
use Harbour\Money\{Coin, Purse as Bag};
use function Harbour\Tides\height;
use const Harbour\Tides\LOW;
require_once __DIR__ . '/legacy.php';
include 'other.php';
const RATE = 3;
define('OLD', 1);
interface Fare { public function of(int $n): Coin; }
trait Counts { private int $seen = 0; protected function note(): void { $this->seen++; } }
enum Tier: string { case Low = 'l'; const X = 1; public static function of(string $s): self { return self::from($s); } }
abstract class Base implements Fare {
    use Counts;
    public const LIMIT = 9;
    public function __construct(private readonly Bag $bag, protected ?int $max = null) {}
    public function of(int $n, string ...$rest): Coin {
        if ($n > 0 && $n < 10) { return new Coin($n); }
        foreach ($rest as $one) { if (!$one) continue; }
        return match(true) { $n > 5 => Coin::zero(), default => height($n) ?? LOW };
    }
    abstract protected function name(): string;
}
function total(array $items, callable $f = null): int {
    $g = fn($x) => $x * RATE;
    $h = function ($y) use ($f) { return $f ? $f($y) : $y; };
    return array_sum(array_map($g, $items)) + \strlen(date('Y'));
}
if (!function_exists('helper')) { function helper($a) { return preg_match('/x/', $a); } }
$x = new class { public function inner() { return 1; } };
`,
    sections: [
      "constant RATE 9-9 () 1",
      "constant OLD 10-10 () 1",
      "class Fare 11-11 () 1",
      "method Fare.of 11-11 (n) 1",
      "class Counts 12-12 () 1",
      "method Counts.note 12-12 () 1",
      "class Tier 13-13 () 1",
      "constant Tier.X 13-13 () 1",
      "method Tier.of 13-13 (s) 1",
      "class Base 14-24 () 7",
      "constant Base.LIMIT 16-16 () 1",
      "method Base.__construct 17-17 (bag, max) 1",
      "method Base.of 18-22 (n, rest) 7",
      "method Base.name 23-23 () 1",
      "function total 25-29 (items, f) 2",
      "function helper 30-30 (a) 2",
    ],
    imports: [
      "4 Harbour\\Money [Coin] Coin=Harbour\\Money Coin",
      "4 Harbour\\Money [Purse] Bag=Harbour\\Money Purse",
      "5 Harbour\\Tides [height] height=Harbour\\Tides height",
      "6 Harbour\\Tides [LOW] LOW=Harbour\\Tides LOW",
      "7 ./legacy.php []",
      "8 other.php []",
    ],
    uses: [
      "11 Coin",
      "17 Bag",
      "18 Coin",
      "19 Coin",
      "21 Coin.zero",
      "21 height",
      "21 LOW",
      "28 date",
      "30 preg_match",
    ],
  },
  {
    language: "ruby",
    source: `# frozen_string_literal: true
require 'json'
require_relative '../money'
require "bigdecimal/util"
autoload :Tides, 'harbour/tides'
RATE = 3
module Harbour
  module Fares
    LIMIT, OTHER = 1, 2
    class Fare < Base::Thing
      include Comparable
      attr_reader :name
      def initialize(name, rate: 1, *rest, **opts, &block)
        @name = name
      end
      def self.build(n) = new(n)
      class << self
        def zero; new(0); end
      end
      def <=>(other) = name <=> other.name
      def price(n)
        return 0 unless n && n > 0
        case n
        when 1 then JSON.generate([n])
        when 2..5 then n.to_d
        else n ? 1 : 2
        end
      rescue ArgumentError => e
        retry if e.message
      end
      define_method(:dyn) { |x| x }
      private def hidden?; true; end
    end
    Point = Struct.new(:x, :y) do
      def dist; Math.sqrt(x); end
    end
    def self.helper(a, b = 2) a end
    module_function
    def util!(z) = z.each { |q| puts q if q }
  end
end
class Harbour::Fares::Late; def go; end; end
def top_level(x)
  x&.y || x.z
end
`,
    sections: [
      "constant RATE 6-6 () 1",
      "class Harbour 7-41 () 9",
      "class Harbour.Fares 8-40 () 9",
      "constant Harbour.Fares.LIMIT 9-9 () 1",
      "constant Harbour.Fares.OTHER 9-9 () 1",
      "class Harbour.Fares.Fare 10-33 () 8",
      "method Harbour.Fares.Fare.initialize 13-15 (name, rate, rest, opts, block) 1",
      "method Harbour.Fares.Fare.build 16-16 (n) 1",
      "method Harbour.Fares.Fare.zero 18-18 () 1",
      "method Harbour.Fares.Fare.<=> 20-20 (other) 1",
      "method Harbour.Fares.Fare.price 21-30 (n) 8",
      "method Harbour.Fares.Fare.hidden? 32-32 () 1",
      "class Harbour.Fares.Point 34-36 () 1",
      "method Harbour.Fares.Point.dist 35-35 () 1",
      "method Harbour.Fares.helper 37-37 (a, b) 1",
      "method Harbour.Fares.util! 39-39 (z) 2",
      "class Harbour.Fares.Late 42-42 () 1",
      "method Harbour.Fares.Late.go 42-42 () 1",
      "function top_level 43-45 (x) 2",
    ],
    imports: [
      "2 json [] JSON=json JSON",
      "3 ../money []",
      "4 bigdecimal/util [] BigDecimal=bigdecimal/util BigDecimal",
      "5 harbour/tides [] Harbour=harbour/tides Harbour",
    ],
    uses: ["24 JSON.generate", "42 Harbour.Fares.Late"],
  },
  {
    language: "csharp",
    source: `using System;
using System.Collections.Generic;
using static System.Math;
using Json = System.Text.Json.JsonSerializer;
global using System.Linq;
namespace Harbour.Fares;
public delegate int Rate(int n);
public enum Tier { Low, High }
public record Coin(int Amount, string Unit = "c") { public int Twice => Amount * 2; }
public record struct Pt(int X);
public interface IFare { int Of(int n); string Name { get; } }
public static class Ext { public static int Add(this int a, int b) => a + b; }
public partial class Fare<T> : IFare where T : class {
    public const int Limit = 3;
    private static readonly Dictionary<string, int> Seen = new();
    public Fare(int max) : base() { Max = max; }
    ~Fare() { }
    public int Max { get; set; }
    public int this[int i] => i;
    public string Name { get { return Max > 1 ? "a" : "b"; } }
    public int Of(int n) {
        if (n > 0 && n < 9 || n == 11) return (int)Sqrt(n);
        foreach (var x in new[] { 1 }) { if (x == 1) continue; }
        try { Json.Serialize(n); } catch (Exception e) when (e.Message == "") { throw; }
        int Local(int q) => q switch { 1 => 2, _ => 3 };
        return n switch { 1 => Local(1), > 5 and < 7 => 2, _ => Console.Read() };
    }
    public static Fare<T> operator +(Fare<T> a, Fare<T> b) => a;
    class Inner { void Deep() { while (true) { } } }
    public event EventHandler Changed;
    async System.Threading.Tasks.Task<int> Later(params int[] xs) { await System.Threading.Tasks.Task.Delay(1); return xs?.Length ?? 0; }
}
`,
    sections: [
      "class Tier 8-8 () 1",
      "class Coin 9-9 () 1",
      "method Coin.Twice 9-9 () 1",
      "class Pt 10-10 () 1",
      "class IFare 11-11 () 1",
      "method IFare.Of 11-11 (n) 1",
      "class Ext 12-12 () 1",
      "method Ext.Add 12-12 (a, b) 1",
      "class Fare 13-32 () 15",
      "constant Fare.Limit 14-14 () 1",
      "constant Fare.Seen 15-15 () 1",
      "method Fare.Fare 16-16 (max) 1",
      "method Fare.~Fare 17-17 () 1",
      "method Fare.this[] 19-19 (i) 1",
      "method Fare.Name 20-20 () 2",
      "method Fare.Of 21-27 (n) 12",
      "method Fare.operator + 28-28 (a, b) 1",
      "class Fare.Inner 29-29 () 2",
      "method Fare.Inner.Deep 29-29 () 2",
      "method Fare.Later 31-31 () 2",
    ],
    imports: [
      "1 System []",
      "2 System.Collections.Generic []",
      "3 System.Math []",
      "4 System.Text.Json.JsonSerializer [] Json=System.Text.Json.JsonSerializer",
      "5 System.Linq []",
    ],
    uses: ["24 Json.Serialize", "26 Console.Read"],
  },
  {
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
  },
  {
    language: "go",
    source: `// Package fares
package fares

import (
	"fmt"
	str "strings"
	_ "embed"
	. "math"
	"github.com/harbour/tides/v2"
	"harbour.example/money"
)

const Rate, Other = 3, 4
const (
	A = iota
	B
)
var seen = map[string]int{}
type Fare struct { Name string; inner *Fare }
type (
	Priced interface { Price(n int) (int, error) }
	ID = string
)
type Num interface{ ~int | ~float64 }
func (f *Fare) Price(n int, rest ...string) (out int, err error) {
	if n > 0 && n < 9 || n == 11 { return int(Sqrt(float64(n))), nil }
	for i, r := range rest { if i > 3 { continue }; fmt.Println(r) }
	switch x := any(n).(type) { case int: fmt.Print(x); case string: default: }
	switch { case n > 5: fallthrough; case n > 6: str.ToUpper("a") }
	select { case <-make(chan int): default: }
	defer func() { recover() }()
	go tides.Height(n)
	return money.Of(n), nil
}
func (Fare) Value() int { return 1 }
func Map[T any, U any](xs []T, f func(T) U) []U { var out []U; for _, x := range xs { out = append(out, f(x)) }; return out }
func init() {}
`,
    sections: [
      "constant Rate 13-13 () 1",
      "constant Other 13-13 () 1",
      "constant A 15-15 () 1",
      "constant B 16-16 () 1",
      "constant seen 18-18 () 1",
      "class Fare 19-19 () 1",
      "class Priced 21-21 () 1",
      "class Num 24-24 () 1",
      "method Fare.Price 25-34 (n, rest) 11",
      "method Fare.Value 35-35 () 1",
      "function Map 36-36 (xs, f) 2",
      "function init 37-37 () 1",
    ],
    imports: [
      "5 fmt [] fmt=fmt",
      "6 strings [] str=strings",
      "7 embed []",
      "8 math [*]",
      "9 github.com/harbour/tides/v2 [] tides=github.com/harbour/tides/v2",
      "10 harbour.example/money [] money=harbour.example/money",
    ],
    uses: ["27 fmt.Println", "28 fmt.Print", "29 str.ToUpper", "31 recover", "32 tides.Height", "33 money.Of"],
  },
  {
    language: "java",
    source: `package harbour.fares;
import java.util.*;
import java.util.function.Function;
import static java.lang.Math.sqrt;
import static harbour.money.Coins.*;
/** Doc */
@Deprecated
public abstract class Fare<T extends Comparable<T>> extends Base implements Priced {
    public static final int LIMIT = 3, OTHER = 4;
    private final Map<String, List<Integer>> seen = new HashMap<>();
    static { System.out.println("x"); }
    public Fare(int max) { this.max = max; }
    @Override public int price(final int n, String... rest) throws Exception {
        if (n > 0 && n < 9 || n == 11) return (int) sqrt(n);
        for (String r : rest) { if (r == null) continue; }
        do { n--; } while (n > 0);
        try { Files.readString(null); } catch (IOException | RuntimeException e) { throw e; } finally { }
        Function<Integer, Integer> f = x -> x > 1 ? x : 2;
        Runnable r = new Runnable() { public void run() { } };
        switch (n) { case 1: case 2: return 1; default: }
        return switch (n) { case 1, 2 -> 1; case 3 -> { yield 2; } default -> java.time.LocalDate.now().getYear(); };
    }
    abstract void later();
    <U> U generic(U u) { return u; }
    enum Tier { LOW(1) { int v() { return 1; } }, HIGH(2); Tier(int x) { } int v() { return 2; } }
    record Point(int x, int y) { Point { if (x < 0) throw new IllegalArgumentException(); } double dist() { return sqrt(x); } }
    interface Deep { default int d() { return 1; } int LIM = 2; }
    @interface Marks { int value() default 1; }
}
class Second { int go() { return 0; } }
`,
    sections: [
      "class Fare 7-29 () 16",
      "constant Fare.LIMIT 9-9 () 1",
      "constant Fare.OTHER 9-9 () 1",
      "method Fare.Fare 12-12 (max) 1",
      "method Fare.price 13-22 (n, rest) 15",
      "method Fare.later 23-23 () 1",
      "method Fare.generic 24-24 (u) 1",
      "class Fare.Tier 25-25 () 1",
      "method Fare.Tier.Tier 25-25 (x) 1",
      "method Fare.Tier.v 25-25 () 1",
      "class Fare.Point 26-26 () 2",
      "method Fare.Point.Point 26-26 () 2",
      "method Fare.Point.dist 26-26 () 2",
      "class Fare.Deep 27-27 () 1",
      "method Fare.Deep.d 27-27 () 1",
      "constant Fare.Deep.LIM 27-27 () 1",
      "class Fare.Marks 28-28 () 1",
      "class Second 30-30 () 1",
      "method Second.go 30-30 () 1",
    ],
    imports: [
      "2 java.util [*]",
      "3 java.util.function [Function] Function=java.util.function Function",
      "4 java.lang.Math [sqrt] sqrt=java.lang.Math sqrt",
      "5 harbour.money.Coins [*]",
    ],
    uses: [
      "10 Integer",
      "11 System.out.println",
      "14 sqrt",
      "18 Function",
      "18 Integer",
      "18 Integer",
      "19 Runnable",
      "19 Runnable",
      "26 sqrt",
    ],
  },
  {
    language: "c",
    source: `#include <stdio.h>
#include "money.h"
#include "../tides/tides.h"
#define RATE 3
#define SQ(x) ((x) * (x))
typedef struct fare { char *name; int n; } fare_t;
struct plain { int x; };
enum tier { LOW, HIGH = 4 };
typedef int (*rate_fn)(int, int);
static const int LIMIT = 9;
int table[] = { 1, 2 };
extern int elsewhere;
int declared(int a);
static inline int price(const fare_t *f, int n, ...) {
    if (n > 0 && n < 9 || n == 11) return SQ(n);
    for (int i = 0; i < n; i++) { if (i == 3) continue; }
    do { n--; } while (n > 0);
    switch (n) { case 1: case 2: return 1; default: break; }
    goto end;
end:
    return n ? printf("%d", n) : malloc(3) != NULL;
}
fare_t *make(void) { return 0; }
int (*chooser(int a))(int) { return 0; }
int old(a, b) int a; char b; { return a + b; }
void arr(int xs[static 3], char *const argv[], int (*cb)(void)) {}
#ifdef WINDOWS
int sys(void) { return 1; }
#else
int sys(void) { return 2; }
#endif
`,
    sections: [
      "constant RATE 4-4 () 1",
      "function SQ 5-5 (x) 1",
      "class fare 6-6 () 1",
      "class plain 7-7 () 1",
      "class tier 8-8 () 1",
      "constant LIMIT 10-10 () 1",
      "constant table 11-11 () 1",
      "function price 14-22 (f, n) 11",
      "function make 23-23 () 1",
      "function chooser 24-24 (a) 1",
      "function old 25-25 (a, b) 1",
      "function arr 26-26 (xs, argv, cb) 1",
      "function sys 28-28 () 1",
      "function sys 30-30 () 1",
    ],
    imports: ["1 stdio.h []", "2 money.h []", "3 ../tides/tides.h []"],
    uses: ["21 printf", "21 malloc"],
  },
  {
    language: "cpp",
    source: `#include <vector>
#include "fare.hpp"
using namespace std;
using Json = nlohmann::json;
namespace harbour { namespace fares {
template <typename T, int N = 3> class Fare : public Base<T> {
public:
    static constexpr int LIMIT = 3;
    explicit Fare(int max) : max_(max) {}
    virtual ~Fare() = default;
    int price(int n, const std::string& s = "") const noexcept override {
        if (n > 0 && n < 9 or n == 11) return std::sqrt(n);
        for (auto& x : xs) { if (x) continue; }
        try { throw 1; } catch (const std::exception& e) { } catch (...) { }
        auto f = [&](int a, int b) { return a > b ? a : b; };
        return f(1, 2);
    }
    bool operator==(const Fare& o) const { return true; }
    operator int() const { return 1; }
    struct Inner { void deep(); };
private:
    int max_;
};
template <> class Fare<int> { void special() {} };
} }
namespace harbour::deep { inline int z() { return 0; } enum class Tier : int { A }; }
void harbour::fares::Inner::deep() { while (true) {} }
template <typename F> auto apply(F&& f, int... xs) -> decltype(f()) { return f(); }
int harbour::fares::Fare<int>::out(int q) { return q; }
extern "C" { int cfun(int a) { return a; } }
const double RATE = 3.0;
concept Small = true;
`,
    sections: [
      "class Fare 6-23 () 9",
      "constant Fare.LIMIT 8-8 () 1",
      "method Fare.Fare 9-9 (max) 1",
      "method Fare.~Fare 10-10 () 1",
      "method Fare.price 11-17 (n, s) 9",
      "method Fare.operator== 18-18 (o) 1",
      "method Fare.operator int 19-19 () 1",
      "class Fare.Inner 20-20 () 1",
      "class Fare 24-24 () 1",
      "method Fare.special 24-24 () 1",
      "function z 26-26 () 1",
      "class Tier 26-26 () 1",
      "method Inner.deep 27-27 () 2",
      "function apply 28-28 (f, xs) 1",
      "method Fare.out 29-29 (q) 1",
      "function cfun 30-30 (a) 1",
      "constant RATE 31-31 () 1",
    ],
    imports: ["1 vector []", "2 fare.hpp []"],
    uses: ["11 std.string", "12 std.sqrt", "14 std.exception"],
  },
  {
    language: "python",
    source: `"""Doc"""
from __future__ import annotations
import os.path as p, sys
from . import money
from ..tides import (height as h, LOW)
from harbour.deep import *
try:
    import simplejson as json
except ImportError:
    import json
if sys.version_info > (3,):
    def compat(x): return x
else:
    def compat(x): return -x
RATE: float = 3.0
A = B = 1
C, D = 1, 2
__all__ = ["fare"]
type Alias = int
@decorated
class Fare(Base, metaclass=Meta):
    LIMIT = 9
    name: str
    def __init__(self, max: int = 1, *args, key=None, **kw): self.max = max
    @property
    def price(self) -> int:
        if self.max > 0 and self.max < 9 or not self: return 1
        for x in [y for y in range(3) if y]: pass
        else: pass
        try: p.join("a")
        except (OSError, ValueError) as e: raise
        finally: pass
        match self.max:
            case 1 | 2: return 1
            case _ if x: return 2
        return json.dumps({}) if self.max else h(1)
    @price.setter
    def price(self, v): ...
    @staticmethod
    def st(a, /, b, *, c): return lambda q: q or a
    class Inner:
        async def deep(self):
            async with x: pass
            await y
            def nested(): pass
            return nested
async def top(a, b=1): pass
def typed(a: "int", *b: str, **c: os.PathLike) -> None: assert a
lam = lambda x: x
while True: break
print(f"{h(2)} {sys.argv}")
`,
    sections: [
      "function compat 12-12 (x) 1",
      "function compat 14-14 (x) 1",
      "constant RATE 15-15 () 1",
      "constant A 16-16 () 1",
      "constant B 16-16 () 1",
      "constant C 17-17 () 1",
      "constant D 17-17 () 1",
      "class Fare 20-46 () 13",
      "method Fare.__init__ 24-24 (max, key) 1",
      "method Fare.price 25-36 () 12",
      "method Fare.price 37-38 (v) 1",
      "method Fare.st 39-40 (a, b, c) 2",
      "class Fare.Inner 41-46 () 1",
      "method Fare.Inner.deep 42-46 () 1",
      "function top 47-47 (a, b) 1",
      "function typed 48-48 (a) 2",
      "constant lam 49-49 () 1",
    ],
    imports: [
      "3 os.path [] p=os.path",
      "3 sys [] sys=sys",
      "4 . [money] money=. money",
      "5 ..tides [height, LOW] h=..tides height, LOW=..tides LOW",
      "6 harbour.deep [*]",
      "8 simplejson [] json=simplejson",
      "10 json [] json=json",
    ],
    uses: ["11 sys.version_info", "30 p.join", "36 json.dumps", "36 h", "51 h", "51 sys.argv"],
  },
  {
    language: "javascript",
    source: `#!/usr/bin/env node
'use strict';
import def, { a as b, c } from './money.js';
import * as ns from '../tides';
import './side.js';
import data from './data.json' with { type: 'json' };
export { x as y, default as z } from './deep/x.js';
export * from './all.js';
export * as all from './all2.js';
const fs = require('fs'), { join: j, sep } = require('node:path');
const { readFile } = require('fs').promises;
const lazy = () => import('./lazy.js');
export const RATE = 3, OTHER = 4;
let count = 0;
export default class Fare extends Base {
  static LIMIT = 9;
  #secret = 1;
  arrow = (q) => q && 1;
  constructor(max = 1, { key, other: o } = {}, ...rest) { super(); }
  get price() { return this.max > 1 ? ns.height(1) : b(); }
  set price(v) {}
  static async *gen(n) { for await (const x of n) { if (!x) continue; yield x; } }
  #hidden() { switch (1) { case 1: case 2: return 1; default: return 2; } }
  ['computed' + 1]() {}
  static { count++; }
}
function top(a, b = 2, ...[c, d]) { try { j('a'); } catch { return a ?? b?.c ?? 1; } finally { } do { } while (a || b); }
export const arrow = async ({ a, b }) => { for (const k in a) { if (k && b) return fs.readFileSync(k); } };
const obj = { m() { return 1; }, f: function () { return 2; }, get g() { return 3; }, 'quoted'() {} };
module.exports = { top, helper: function helper(a) { return a; } };
exports.later = function (z) { return z; };
Fare.prototype.added = function (n) { return n; };
(function () { function inside() { return 1; } })();
label: for (;;) { break label; }
`,
    sections: [
      "function lazy 12-12 () 1",
      "constant RATE 13-13 () 1",
      "constant OTHER 13-13 () 1",
      "constant count 14-14 () 1",
      "class Fare 15-26 () 7",
      "method Fare.arrow 18-18 (q) 2",
      "method Fare.constructor 19-19 (max, options, rest) 1",
      "method Fare.price 20-20 () 2",
      "method Fare.price 21-21 (v) 1",
      "method Fare.gen 22-22 (n) 3",
      "method Fare.#hidden 23-23 () 3",
      "method Fare.['computed' + 1] 24-24 () 1",
      "function top 27-27 (a, b, options) 6",
      "function arrow 28-28 (options) 4",
      "constant obj 29-29 () 1",
      "method obj.m 29-29 () 1",
      "method obj.f 29-29 () 1",
      "method obj.g 29-29 () 1",
      "method obj.quoted 29-29 () 1",
      "function helper 30-30 (a) 1",
      "function later 31-31 (z) 1",
      "method Fare.added 32-32 (n) 1",
      "function inside 33-33 () 1",
    ],
    imports: [
      "3 ./money.js [default, a, c] def=./money.js default, b=./money.js a, c=./money.js c",
      "4 ../tides [*] ns=../tides",
      "5 ./side.js []",
      "6 ./data.json [default] data=./data.json default",
      "7 ./deep/x.js [x, default]",
      "8 ./all.js [*]",
      "9 ./all2.js [*]",
      "10 fs [*] fs=fs",
      "10 node:path [join, sep] j=node:path join, sep=node:path sep",
      "11 fs [promises.readFile] readFile=fs promises readFile",
      "12 ./lazy.js []",
    ],
    uses: ["20 ns.height", "20 b", "27 j", "28 fs.readFileSync"],
  },
  {
    language: "typescript",
    source: `import type { T1 } from './types';
import { type T2, value } from './values.js';
import eq = require('./legacy');
import * as path from 'node:path';
export type { T3 } from './t3';
declare module 'x' { export function ambient(a: number): void; }
declare const GLOBAL: string;
namespace Harbour { export function inNs(a: number) { return a; } export namespace Deep { export const K = 1; } }
export enum Tier { Low = 1, High }
export interface Fare<T> { of(n: number): T; name: string }
export type Shape = { kind: 'a'; area(): number } | { kind: 'b' };
type Fn = (a: number) => string;
export abstract class Base<T extends object> implements Fare<T> {
  static readonly LIMIT: number = 9;
  protected abstract later(): void;
  constructor(private readonly max: number, public name?: string) {}
  of(n: number): T;
  of(n: string): T;
  of(n: any): T { return (n satisfies any) as T; }
  private async *gen<U>(this: Base<T>, a: U, b?: U, ...c: U[]): AsyncGenerator<U> { if (a! && b) yield a; }
  get size(): number { return path.sep.length ?? 1; }
  @dec() accessor x = 1;
}
export function over(a: number): number;
export function over(a: any, b = value): any { return a ? b : <any>a; }
export const generic = <T,>(a: T, { b, c }: { b: number; c?: string }): T => a;
function assertIs(a: unknown): asserts a is string { if (typeof a !== 'string') throw new TypeError(); }
export default function () { return 1; }
`,
    sections: [
      "constant GLOBAL 7-7 () 1",
      "function inNs 8-8 (a) 1",
      "constant K 8-8 () 1",
      "class Tier 9-9 () 1",
      "class Fare 10-10 () 1",
      "class Base 13-23 () 4",
      "method Base.constructor 16-16 (max, name) 1",
      "method Base.of 19-19 (n) 1",
      "method Base.gen 20-20 (a, b, c) 3",
      "method Base.size 21-21 () 2",
      "function over 25-25 (a, b) 2",
      "function generic 26-26 (a, options) 1",
      "function assertIs 27-27 (a) 2",
      "function default 28-28 () 1",
    ],
    imports: [
      "1 ./types [T1] T1=./types T1",
      "2 ./values.js [T2, value] T2=./values.js T2, value=./values.js value",
      "3 ./legacy [*] eq=./legacy",
      "4 node:path [*] path=node:path",
      "5 ./t3 [T3]",
    ],
    uses: ["21 path.sep.length", "25 value"],
  },
  {
    language: "tsx",
    source: `import React, { useState as use } from 'react';
import { Button } from '@ui/button';
export const Card: React.FC<{ a: number }> = ({ a }) => { const [s, set] = use(0); return <Button.Big onClick={() => a > 1 && set(1)}>{s ? <b/> : <Button x={s}/>}</Button.Big>; };
export default function Page() { return <><Card a={1} /><React.Fragment /></>; }
export const Memo = React.memo(function Inner({ q }: { q: string }) { return <i>{q}</i>; });
class Old extends React.Component { render() { return <Card a={2} />; } }
`,
    sections: [
      "function Card 3-3 (options) 3",
      "function Page 4-4 () 1",
      "constant Memo 5-5 () 1",
      "class Old 6-6 () 1",
      "method Old.render 6-6 () 1",
    ],
    imports: [
      "1 react [default, useState] React=react default, use=react useState",
      "2 @ui/button [Button] Button=@ui/button Button",
    ],
    uses: [
      "3 React.FC",
      "3 use",
      "3 Button.Big",
      "3 Button",
      "3 Button.Big",
      "4 React.Fragment",
      "5 React.memo",
      "6 React.Component",
    ],
  },
];
