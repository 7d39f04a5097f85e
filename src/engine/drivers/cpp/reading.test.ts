/** Tests reading and registering C++, without a compiler. */
import { describe, expect, it } from "vitest";
import { type CppDeclarations, readCpp } from "@/engine/drivers/cpp/declarations";
import { type CppTerms, registrationOf, splitArguments } from "@/engine/drivers/cpp/registration";
import { loadParser } from "@/engine/source/parse";

async function read(text: string): Promise<CppDeclarations> {
  const tree = (await loadParser(["cpp"]))(text, "cpp");
  if (!tree) throw new Error("no tree");
  const found = readCpp(tree.root);
  tree.free();
  return found;
}

const SOURCE = `#include "knot.hpp"
#include <vector>
namespace sea {
namespace { int hidden(int n) { return n; } }
namespace a::b { double deep(double x = 1.5, const char *y = "a,b") { return x; } }
enum class Wind : int { Calm, Gale = 9 };
template <typename T, int N> T most(const T (&all)[N]) { return all[0]; }
int any(const char *form, ...) { return 0; }
class Boat final : public Hull, private Rig<int> {
 public:
  Boat() = default;
  Boat(const Boat &) = delete;
  explicit Boat(int length, std::string name = "x");
  ~Boat();
  virtual int length() const = 0;
  static Boat make(int n);
  Boat &operator+=(int n);
  struct Sail { int area; };
  static int count;
  unsigned wet : 1;
  int &shared;
 private:
  int a_, b_[3];
};
int Boat::length() const { return 1; }
}
int main() {}
`;

describe("a C++ file", () => {
  it("is read with namespaces, templates and members", async () => {
    const found = await read(SOURCE);
    expect(found.includes).toEqual(["knot.hpp", "vector"]);
    expect(found.functions.map(({ name, scope, refused }) => [name, scope.join("/"), refused])).toEqual([
      ["hidden", "sea/", null],
      ["deep", "sea/a/b", null],
      ["most", "sea", null],
      ["any", "sea", "it takes any number of arguments"],
      ["main", "", null],
    ]);
    expect(found.functions[1]?.parameters).toMatchObject([
      { name: "x", hasDefault: true, declared: "double \0" },
      { name: "y", hasDefault: true, declared: "const char *\0" },
    ]);
    expect(found.functions[2]?.template).toEqual({ declared: ["typename T", "int N"], names: ["T", "N"] });
    expect(found.enums).toMatchObject([{ path: ["Wind"], members: ["Calm", "Gale"], isScoped: true }]);
    const boat = found.classes.find(({ name }) => name === "Boat");
    expect(boat).toMatchObject({ bases: ["Hull", "Rig<int>"], isFinal: true, scope: ["sea"] });
    expect(boat?.fields).toEqual([
      { name: "wet", isBits: true },
      { name: "a_", isBits: false },
      { name: "b_", isBits: false },
    ]);
    expect(boat?.constructors.map(({ parameters }) => parameters.length)).toEqual([0, 2]);
    expect(boat?.methods.map(({ name, isStatic }) => [name, isStatic])).toEqual([
      ["length", false],
      ["make", true],
      ["operator+=", false],
    ]);
    expect(found.classes.map(({ path }) => path.join("."))).toEqual(["Boat.Sail", "Boat"]);
  });

  it.each([
    ["int n = 0;", false],
    ['static const std::string NAME = "x";', false],
    ["constexpr int LIMITS[] = {1};", false],
    ["std::vector<int> all;", true],
    ["static char *last;", true],
    ["int f() { static std::map<int, int> seen; return 0; }", true],
    ["int f() { static int calls; return ++calls; }", false],
    ["struct A { static std::string name; };", true],
    ["extern std::string elsewhere;", false],
    ["thread_local int depth = 0;", true],
    ["static auto cache = make_cache();", true],
    ["static const std::shared_ptr<Cache> cache = make_cache();", true],
    ["const auto double_it = [](int n) { return n * 2; };", false],
    ["static Boat *const only = new Boat();", true],
    ["int f() { thread_local int calls; return ++calls; }", true],
    ["std::string f(int);", false],
  ])("%s: what it keeps cannot be compared byte by byte: %s", async (text, isDeep) => {
    expect((await read(text)).isDeep).toBe(isDeep);
  });
});

describe("its registration", () => {
  const terms = (own: CppDeclarations, more: Partial<CppTerms> = {}): CppTerms => ({
    file: "src/boat.cpp",
    own,
    included: [],
    shapes: () => undefined,
    uses: () => [],
    refused: new Map(),
    ...more,
  });

  it("has an entry for each number of arguments, and names where an error belongs", async () => {
    const text = registrationOf(terms(await read(SOURCE)));
    expect(text).toContain('#line 1 "side-twin-f1"');
    expect(text.match(/::st::add\(\{"src\/boat\.cpp", "deep"/g)).toHaveLength(3);
    expect(text).toContain("typedef double st_f1_0_p0;");
    expect(text).toContain('add({"src/boat.cpp", "any", {}, "it takes any number of arguments"');
    expect(text).toContain('add({"src/boat.cpp", "most", {}, "it is a template that the side does not use"');
    expect(text).toContain("template <> struct Members<::sea::Wind>");
    expect(text).not.toContain('"main"');
    // A final class has none below it.
    expect(text).not.toContain(": ::sea::Boat {");
  });

  it("uses templates as the side does, and leaves out what did not compile", async () => {
    const own = await read(
      "template <typename A, typename B> A pick(A a, B) { return a; }\nint plain(int n) { return n; }\n",
    );
    const text = registrationOf(
      terms(own, { uses: () => ["std::pair<int, int>, char"], refused: new Map([["f1", 'no "such" thing']]) }),
    );
    expect(text).toContain("using A = std::pair<int, int>; using B = char;");
    expect(text).toContain('"pick<std::pair<int, int>, char>"');
    expect(text).toContain('"plain", {}, "no \\"such\\" thing"');
    expect(splitArguments("a<b, c>, d(e, f), g")).toEqual(["a<b, c>", "d(e, f)", "g"]);
  });

  it("knows lengths by their names, and what the port says of them", async () => {
    const own = await read("int sum(const int *values, size_t count, double *out) { return 0; }\n");
    const plain = registrationOf(terms(own));
    expect(plain).toContain('{{"values", 1, -1, false, 0}, {"count", -1, 0, false, 0}, {"out", -1, -1, false, 0}}');
    const said = registrationOf(
      terms(own, { shapes: (_file, name) => (name === "sum" ? { out: "out, room 4" } : undefined) }),
    );
    expect(said).toContain('{"out", -1, -1, true, 4}');
  });
});
