/** Hard cases in C++: overloads, templates, ownership, bases, exceptions, containers, compile errors. */
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type StartedSide, startSide } from "./side";

const HEADER = `#pragma once
#include <functional>
#include <memory>
#include <string>
#include <vector>
#define MILL_API
namespace mill {
class MILL_API Gear { struct Inside; std::unique_ptr<Inside> inside; public: explicit Gear(int teeth = 8); Gear(Gear &&); ~Gear(); int teeth() const; };
enum class Grain { Rye, Oats = 4 };
enum Wind { CALM, GALE = 9 };
struct Sack { std::string owner; double weight = 1.5; Grain grain = Grain::Rye; unsigned wet : 1; std::vector<int> marks; };
class Wheel {
 public:
  virtual ~Wheel() = default;
  virtual int turns() const = 0;
  int twice() const { return turns() * 2; }
};
class Slow final : public Wheel { int base_; public: Slow() : base_(0) {} explicit Slow(int base) : base_(base) {} int turns() const override { return base_ + 1; } };
struct Fast : Wheel { int speed = 3; double slip = 0.5; int turns() const override { return speed * 10; } };
class Stone {
 public:
  Stone(const Stone &) = delete;
  Stone(std::string name, int size = 2) : name_(std::move(name)), size_(size) {}
  explicit Stone(double) : name_("double"), size_(0) {}
  const std::string &name() const { return name_; }
  int grind(int sacks, int times = 2);
  Stone &larger() { size_++; return *this; }
  static int made(int n) { return n + 100; }
  bool operator<(const Stone &other) const { return size_ < other.size_; }
  struct Mark { int at; };
  int marked(Mark mark) { return mark.at + size_; }
  int size() const { return size_; }
  void setSize(int size) { size_ = size; }
 private:
  std::string name_;
  int size_;
};
template <class T> class Heap {
 public:
  void push(T item) { items.push_back(item); }
  T pop() { T last = items.back(); items.pop_back(); return last; }
  size_t size() const { return items.size(); }
 private:
  std::vector<T> items;
};
class Header { int n; public: Header(int n) : n(n) {} int next() { return ++n; } };
using Chooser = std::function<int(int)>;
}
`;

const SOURCE = `#include "mill.hpp"
#include <algorithm>
#include <array>
#include <cstdint>
#include <deque>
#include <cstring>
#include <list>
#include <map>
#include <optional>
#include <set>
#include <span>
#include <stdexcept>
#include <tuple>
#include <unordered_map>
#include <variant>
int library_function(int);
namespace mill {
struct Gear::Inside { int teeth; };
Gear::Gear(int teeth) : inside(new Inside{teeth}) {}
Gear::Gear(Gear &&) = default;
Gear::~Gear() = default;
int Gear::teeth() const { return inside->teeth; }
struct Secret;
Secret *hide(int n) { return reinterpret_cast<Secret *>(new int(n)); }
int reveal(Secret *secret) { return *reinterpret_cast<int *>(secret); }
int Stone::grind(int sacks, int times) { if (sacks < 0) throw std::out_of_range("no sacks"); return sacks * times * size_; }
int area(int side) { return side; }
double area(double side) { return side / 2; }
std::string area(const std::string &side) { return side + "!"; }
int area(int wide, int high) { return wide * high; }
int weigh(const Sack &sack, int more = 5, const char *label = "x") { return int(sack.weight) + more + int(strlen(label)); }
Sack heavier(Sack sack) { sack.weight *= 2; sack.wet = 1; return sack; }
void mark(Sack &sack, int number) { sack.marks.push_back(number); }
Grain other(Grain grain) { return grain == Grain::Rye ? Grain::Oats : Grain::Rye; }
Wind wind(Wind now) { return now == CALM ? GALE : CALM; }
template <typename T> T largest(const std::vector<T> &all) { return *std::max_element(all.begin(), all.end()); }
int uses() { return largest<int>({1, 2}) + int(largest<double>({0.5})); }
template <typename T> T never(T t) { return t; }
int run(const Wheel &wheel) { return wheel.twice(); }
int run_pointer(Wheel *wheel) { return wheel ? wheel->turns() : -1; }
int owned(std::unique_ptr<Wheel> wheel) { return wheel ? wheel->turns() : 0; }
std::unique_ptr<Wheel> fast(int speed) { auto made = std::make_unique<Fast>(); made->speed = speed; return made; }
std::shared_ptr<Stone> shared(const std::string &name) { return std::make_shared<Stone>(name); }
std::string name_of(std::shared_ptr<Stone> stone) { return stone->name(); }
Wheel *nothing() { return nullptr; }
std::optional<int> find(const std::vector<std::string> &all, std::string_view wanted) { for (size_t at = 0; at < all.size(); at++) if (all[at] == wanted) return int(at); return std::nullopt; }
std::variant<std::monostate, int, std::string> parse(const std::string &text) { if (text.empty()) return {}; if (text[0] == '1') return 1; return text; }
std::string kind(std::variant<double, int, std::string> value) { return value.index() == 0 ? "double" : value.index() == 1 ? "int" : "text"; }
std::tuple<int, std::string, bool> triple() { return {1, "a", true}; }
std::pair<int, int> turned(std::pair<int, int> both) { return {both.second, both.first}; }
std::map<int, std::string> names() { return {{2, "b"}, {1, "a"}}; }
std::unordered_map<std::string, std::vector<int>> groups(std::map<std::string, std::list<int>> in) { std::unordered_map<std::string, std::vector<int>> out; for (auto &[key, list] : in) out[key] = {list.rbegin(), list.rend()}; return out; }
std::array<int, 2> ends(std::array<int, 3> row) { return {row[0], row[2]}; }
int sum(std::span<const int> all) { int total = 0; for (int one : all) total += one; return total; }
int sum_raw(const int *values, size_t count) { int total = 0; for (size_t at = 0; at < count; at++) total += values[at]; return total; }
std::vector<uint8_t> doubled(std::span<const uint8_t> data) { std::vector<uint8_t> out; for (auto b : data) out.push_back(b * 2); return out; }
void swap(int &a, int *b) { std::swap(a, *b); }
int text_thrown() { throw "plain"; }
int number_thrown() { throw 42; }
struct Odd { int n; };
int odd_thrown() { throw Odd{1}; }
int choose(Chooser chooser) { return chooser(1); }
int needs(int n) { return library_function(n); }
std::vector<int> log;
int logged(int n) { log.push_back(n); return int(log.size()); }
int crash(int *place) { return *place; }
bool both(bool a, std::vector<bool> b) { return a && b[0]; }
bool operator==(const Sack &a, const Sack &b) { return a.owner == b.owner; }
int add(int a, int b) { return a + b; }
int heaps() { Heap<int> heap; heap.push(1); return heap.pop(); }
namespace { int hidden(int n) { return n + 7; } }
namespace inner::most { int deep() { return 9; } }
}
int main() { return mill::heaps(); }
`;

describe("C++", () => {
  let side: StartedSide;
  beforeAll(async () => {
    side = await startSide(
      "cpp",
      {
        "src/mill.cpp": SOURCE,
        "src/mill.hpp": HEADER,
        "src/wrong.cc": '#include "mill.hpp"\nint good() { return 1; }\nint wrong() { return unknown_name; }\n',
      },
      {
        modules: [
          { name: "mill", original: ["src/mill.cpp", "src/mill.hpp"] },
          { name: "wrong", original: ["src/wrong.cc"] },
        ],
      },
    );
  }, 120_000);
  afterAll(() => side?.close());

  const sack = { owner: "Ada", weight: 2, grain: 4, wet: 0, marks: [1] };
  it.each<[string, Parameters<StartedSide["call"]>[1][], object]>([
    ["area", [3], { value: 3 }],
    ["area", [3.5], { value: 1.75 }],
    ["area", [{ "~float": "3.0" }], { value: 1.5 }],
    ["area", ["x"], { value: "x!" }],
    ["area", [2, 3], { value: 6 }],
    ["area", [[]], { kind: "broken", what: expect.stringContaining("side of area") }],
    ["area", [1, 2, 3], { kind: "broken", what: expect.stringContaining("area takes") }],
    ["weigh", [sack], { value: 8 }],
    ["weigh", [sack, 1], { value: 4 }],
    ["weigh", [{ owner: "B" }, 1, "abc"], { value: 5 }],
    [
      "weigh",
      [{ owner: "B", colour: 1 }],
      { kind: "broken", what: expect.stringContaining("Sack has no field colour") },
    ],
    [
      "heavier",
      [sack],
      {
        value: {
          "~obj": "Sack",
          fields: {
            owner: "Ada",
            weight: { "~float": "4.0" },
            grain: { "~obj": "Grain", fields: { value: 4 } },
            wet: 1,
            marks: [1],
          },
        },
      },
    ],
    ["mark", [sack, 7], { value: null, args: [{ fields: { marks: [1, 7] } }, 7] }],
    ["other", ["Oats"], { value: { fields: { value: 0 } } }],
    ["other", [3], { kind: "broken", what: expect.stringContaining("3 is no member of Grain") }],
    ["wind", [9], { value: 0 }],
    ["largest<int>", [[1, 3, 2]], { value: 3 }],
    ["largest<double>", [[0.5, 1.5]], { value: 1.5 }],
    ["never", [1], { kind: "broken", what: expect.stringContaining("it is a template that the side does not use") }],
    ["run", [{ "~obj": "Fast", fields: { speed: 2 } }], { value: 40 }],
    ["run", [{ "~obj": "Wheel", fields: {} }], { kind: "broken", what: expect.stringContaining("Wheel is abstract") }],
    ["run_pointer", [null], { value: -1 }],
    ["run_pointer", [{ "~obj": "Fast", fields: {} }], { value: 30 }],
    ["owned", [{ "~obj": "Fast", fields: { speed: 1 } }], { value: 10 }],
    ["fast", [2], { value: { "~obj": "Fast", fields: { speed: 2, slip: 0.5 } } }],
    ["nothing", [], { value: null }],
    ["find", [["a", "b"], "b"], { value: 1 }],
    ["find", [[], "b"], { value: null }],
    ["parse", [""], { value: null }],
    ["parse", ["1"], { value: 1 }],
    ["kind", [1], { value: "int" }],
    ["kind", [1.5], { value: "double" }],
    ["kind", ["x"], { value: "text" }],
    ["kind", [null], { kind: "broken" }],
    ["triple", [], { value: { "~tuple": [1, "a", true] } }],
    ["turned", [[1, 2]], { value: { "~tuple": [2, 1] } }],
    [
      "names",
      [],
      {
        value: {
          "~map": [
            [1, "a"],
            [2, "b"],
          ],
        },
      },
    ],
    ["groups", [{ b: [1, 2], a: [] }], { value: { a: [], b: [2, 1] } }],
    ["ends", [[1, 2, 3]], { value: [1, 3] }],
    ["ends", [[1, 2]], { kind: "broken", what: expect.stringContaining("has 2 items, not 3") }],
    ["sum", [[1, 2]], { value: 3 }],
    ["sum_raw", [[1, 2]], { value: 3 }],
    ["sum_raw", [[1, 2], 1], { value: 1 }],
    ["doubled", [{ "~bytes": "AQI=" }], { value: { "~bytes": "AgQ=" } }],
    ["swap", [1, 2], { args: [2, 1] }],
    ["text_thrown", [], { thrown: { kind: "char", message: "plain" } }],
    ["number_thrown", [], { thrown: { kind: "int", message: "42" } }],
    ["odd_thrown", [], { thrown: { kind: "Odd", message: "" } }],
    ["choose", [null], { kind: "broken", what: expect.stringContaining("cannot be handed over") }],
    ["needs", [1], { kind: "broken", what: expect.stringContaining("it calls library_function(int)") }],
    ["both", [true, [true]], { value: true }],
    ["operator==", [sack, sack], { value: true }],
    ["add", [1, 2], { value: 3 }],
    ["hidden", [1], { value: 8 }],
    ["deep", [], { value: 9 }],
    ["Stone.made", [1], { value: 101 }],
  ])("%s(%j)", async (name, args, expected) => {
    expect(await side.call(name, ...args)).toMatchObject(expected);
  });

  it("makes objects that cannot be copied, hands them on, and reads what is private", async () => {
    const answer = await side.steps([
      { new: "Stone", args: ["blue"], as: "a" },
      { new: "Stone", args: ["red", 5], as: "b" },
      { call: "grind", on: "a", args: [3] },
      { call: "grind", on: "a", args: [-1] },
      { call: "operator<", on: "a", args: [{ "~as": "b" }] },
      { call: "larger", on: "a", as: "same" },
      { get: "size", on: "same" },
      { get: "name", on: "b" },
      { set: "size", on: "b", value: 50 },
      { get: "size_", on: "b" },
      { call: "marked", on: "b", args: [{ at: 1 }] },
      { call: "shared", args: ["own"], as: "s" },
      { call: "name_of", args: [{ "~as": "s" }] },
      { call: "fast", args: [4], as: "w" },
      { call: "twice", on: "w" },
      { call: "owned", args: [{ "~as": "w" }] },
      { new: "Slow", args: [6], as: "slow" },
      { call: "run", args: [{ "~as": "slow" }] },
      { new: "Heap<int>", as: "heap" },
      { call: "push", on: "heap", args: [3] },
      { call: "pop", on: "heap" },
      { new: "Gear", args: [12], as: "gear" },
      { call: "teeth", on: "gear" },
      { call: "hide", args: [7], as: "secret" },
      { call: "reveal", args: [{ "~as": "secret" }] },
      { new: "Header", args: [1], as: "h" },
      { call: "next", on: "h" },
    ]);
    expect(answer).toMatchObject({ kind: "steps" });
    const made = { "~obj": "new", fields: {} };
    expect(answer.steps.map((step) => step.value ?? step.thrown ?? null)).toEqual([
      made,
      made,
      12,
      { kind: "out_of_range", message: "no sacks" },
      true,
      { "~obj": "Stone", fields: { name_: "blue", size_: 3 } },
      3,
      "red",
      null,
      50,
      51,
      { "~obj": "Stone", fields: { name_: "own", size_: 2 } },
      "own",
      { "~obj": "Fast", fields: { speed: 4, slip: 0.5 } },
      80,
      40,
      made,
      14,
      made,
      null,
      3,
      made,
      12,
      { "~obj": "Secret", fields: {} },
      7,
      made,
      2,
    ]);
  });

  it("gives each case its variables as they were loaded, and tells where a crash struck", async () => {
    expect((await side.call("logged", 4)).value).toBe(1);
    expect((await side.call("logged", 5)).value).toBe(1);
    const crash = await side.call("crash", null);
    expect(crash).toMatchObject({ kind: "broken", why: "crashed", what: expect.stringContaining("SIGSEGV") });
    expect(crash.lastOutput).toMatch(/mill::crash\(int\*\) at mill\.cpp:\d+/);
  });

  it("counts what is still held once objects have ended", async () => {
    const held = await startSide(
      "cpp",
      {
        "held.cpp": `
#include <memory>
#include <vector>
class Tank { int *level; std::vector<int> marks; public:
  explicit Tank(int n) : level(new int(n)) {}
  ~Tank() { if (*level > 0) delete level; }
  void mark(int n) { marks.push_back(n); } };
std::unique_ptr<Tank> safe() { return std::make_unique<Tank>(1); }
Tank *raw() { return new Tank(1); }
void drain(Tank *tank) { delete tank; }
void take(std::unique_ptr<Tank> tank) {}
`,
      },
      { port: { allocations: true } },
    );
    const ending = async (...steps: object[]) => (await held.steps(steps as never)).leaks;
    expect(await ending({ new: "Tank", args: [1], as: "t" }, { call: "mark", on: "t", args: [3] })).toEqual({
      blocks: 0,
    });
    expect(await ending({ new: "Tank", args: [0], as: "t" })).toEqual({ blocks: 1 });
    expect(await ending({ call: "safe", as: "t" }, { call: "take", args: [{ "~as": "t" }] })).toEqual({ blocks: 0 });
    expect(await ending({ call: "safe", as: "t" })).toEqual({ blocks: 0 });
    expect(await ending({ call: "raw", as: "t" })).toEqual({ blocks: 2 });
    expect(await ending({ call: "raw", as: "t" }, { call: "drain", args: [{ "~as": "t" }] })).toEqual({ blocks: 0 });
    expect(await ending({ new: "Tank", args: [1], as: "t" }, { call: "drain", args: [{ "~as": "t" }] })).toEqual({
      blocks: 0,
    });
    held.close();
  }, 60_000);

  it("leaves out a source that defines what another one does", async () => {
    const twice = await startSide("cpp", {
      "a.cpp": "int shared_name() { return 1; }\nint first() { return shared_name(); }\n",
      "b.cpp": "int shared_name() { return 2; }\nint second() { return shared_name(); }\n",
      "main.cpp": "int main() { return 0; }\nint third() { return 3; }\n",
      "other.cpp": "int main() { return 1; }\n",
    });
    expect((await twice.callIn("a", "first")).value).toBe(1);
    const left = await twice.callIn("b", "second");
    expect(left).toMatchObject({ kind: "broken", what: expect.stringMatching(/^b\.cpp: it defines .*shared_name/) });
    expect((await twice.callIn("main", "third")).value).toBe(3);
    twice.close();
  }, 60_000);

  it("breaks only the file that does not compile", async () => {
    const broken = await side.callIn("wrong", "good");
    expect(broken).toMatchObject({ kind: "broken", what: expect.stringMatching(/^src\/wrong\.cc:3: .*unknown_name/) });
  });
});
