/** Hard cases in C: pointers and lengths, structs, state, names, crashes, compile errors. */
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type StartedSide, startSide } from "./side";

const LOCKS = `
#include <stddef.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>
#include <stdio.h>
#include "locks.h"

#define DEPTH 4

static int opened = 0;
static char *last = NULL;
char log_text[64];

int sum(const int *values, size_t count) { int all = 0; for (size_t at = 0; at < count; at++) all += values[at]; return all; }
int sum_after(size_t n, const int *values) { return sum(values, n); }
void swap(int *a, int *b) { int kept = *a; *a = *b; *b = kept; }
void upper(char *text) { for (; *text; text++) if (*text >= 'a' && *text <= 'z') *text -= 32; }
int label(char *out, size_t size, int number) { return snprintf(out, size, "lock %d", number); }
void rise(struct lock *lock, double by) { lock->level += by; lock->gates[0]++; }
struct lock shut(struct lock lock) { lock.state = SHUT; lock.flags.wet = 0; return lock; }
enum state next_state(enum state state) { return state == OPEN ? SHUT : OPEN; }
const char *name_of(const struct lock *lock) { return lock ? lock->name : NULL; }
int deepest(const struct row *row) { return row->count ? row->depths[row->count - 1] : -1; }
int apply(int (*change)(int), int value) { return change(value); }
int say(const char *form, ...) { return form != NULL; }
int count_up(void) { static int counter = 0; opened++; return ++counter + opened; }
void remember(const char *text) { free(last); last = strdup(text); }
const char *remembered(void) { return last; }
int kept_by_function(void) { static int n = 0; return ++n; }
int boom(int *place) { return *place + 1; }
int divide(int a, int b) { return a / b; }
void stop(void) { abort(); }
void leave(int code) { exit(code); }
unsigned char low(unsigned char byte) { return byte ^ 0xff; }
signed char small(signed char byte) { return byte; }
uint64_t widest(uint64_t number) { return number; }
float single(float number) { return number; }
char first_char(const char *text, size_t length) { return length ? text[0] : '?'; }
uint32_t check_sum(const uint8_t *data, size_t size) { uint32_t all = 0; while (size--) all = all * 31 + *data++; return all; }
int uses_library(int n) { return other_library(n); }
void limits(int *low, int *high) { *low = -5; *high = 5; }
char *copy_of(const char *text) { return strdup(text); }
struct chain { int value; struct chain *next; };
int length_of(const struct chain *chain) { int n = 0; for (; chain; chain = chain->next) n++; return n; }
struct chain *loop(void) { static struct chain one; one.value = 1; one.next = &one; return &one; }
struct walker *walker_new(int start) { return walker_make(start); }
const char **words(void) { static const char *list[] = {"a", "b", NULL}; return list; }
static inline int hidden(int n) { return n + DEPTH; }
int main(int argc, char **argv) { return argc; }
`;

const HEADER = `
#ifndef LOCKS_H
#define LOCKS_H
enum state { OPEN = 2, SHUT = 5 };
typedef struct lock {
  char name[8];
  double level;
  enum state state;
  int gates[2];
  struct { unsigned wet : 1; signed depth : 4; } flags;
  union { int whole; float part; } either;
} lock_t;
struct row { int *depths; int count; };
struct walker;
struct walker *walker_make(int start);
int other_library(int n);
static inline int doubled(int n) { return n * 2; }
#endif
`;

const WALKER = `
#include <stdlib.h>
#include "locks.h"
struct walker { int at; };
struct walker *walker_make(int start) { struct walker *made = malloc(sizeof *made); made->at = start; return made; }
int walker_step(struct walker *walker, int by) { return walker->at += by; }
static int helper(void) { return 1; }
int same_name(void) { return helper(); }
`;

const OTHER = `
static int helper(void) { return 2; }
int same_name(void) { return helper(); }
int calls_same(void) { return same_name(); }
int main(void) { return same_name(); }
`;

const lock = { name: "Ebb", level: 1.5, state: 2, gates: [1, 2], flags: { wet: 1, depth: -3 } };

describe("C", () => {
  let side: StartedSide;
  beforeAll(async () => {
    side = await startSide(
      "c",
      {
        "src/locks.c": LOCKS,
        "src/walker.c": WALKER,
        "src/other one.c": OTHER,
        "src/broken.c": "int fine(void) { return 1; }\nint wrong(void) { return missing_name; }\n",
        "include/locks.h": HEADER,
        "include/only.h": "static inline int from_header(int n) { return n + 1; }\n",
      },
      {
        call: { include: ["include"] },
        port: {
          shapes: {
            "locks.limits": { low: "out", high: "out" },
            "locks.label": { out: "out, room 16", size: "room of out" },
            "locks.copy_of": { return: "text, freed by free" },
          },
        },
        modules: [
          { name: "locks", original: ["src/locks.c"] },
          { name: "walker", original: ["src/walker.c"] },
          { name: "other", original: ["src/other one.c"] },
          { name: "broken", original: ["src/broken.c"] },
          { name: "only", original: ["include/only.h"] },
          { name: "header", original: ["include/locks.h"] },
        ],
      },
    );
  }, 60_000);
  afterAll(() => side?.close());

  it.each<[string, Parameters<StartedSide["call"]>[1][], object]>([
    ["sum", [[1, 2, 3]], { value: 6 }],
    ["sum", [[1, 2, 3], 2], { value: 3 }],
    ["sum", [[], 0], { value: 0 }],
    [
      "sum",
      [[1], 2],
      { kind: "broken", what: expect.stringContaining("values of sum: its length is given as 2, but it has 1 items") },
    ],
    ["sum_after", [[4, 5]], { value: 9 }],
    ["sum_after", [2, [4, 5]], { value: 9 }],
    ["swap", [1, 2], { value: null, args: [2, 1] }],
    ["upper", ["tide"], { value: null, args: ["TIDE"] }],
    ["label", [7], { value: { "~tuple": [6, "lock 7"] } }],
    ["limits", [], { value: { "~tuple": [-5, 5] } }],
    ["copy_of", ["x"], { value: "x" }],
    ["next_state", [2], { value: 5 }],
    ["next_state", ["SHUT"], { value: 2 }],
    ["next_state", [3], { kind: "broken", what: expect.stringContaining("3 is no member of enum state") }],
    ["name_of", [lock], { value: "Ebb" }],
    ["name_of", [null], { value: null }],
    [
      "name_of",
      [{ ...lock, name: "much too long" }],
      { kind: "broken", what: expect.stringContaining("longer than 8") },
    ],
    ["name_of", [{ nam: "x" }], { kind: "broken", what: expect.stringContaining("lock has no field nam") }],
    ["deepest", [{ depths: [3, 9], count: 2 }], { value: 9 }],
    ["deepest", [{ depths: [3, 9] }], { value: 9 }],
    ["apply", [null, 1], { kind: "broken", what: expect.stringContaining("its parameter change is a function") }],
    ["say", ["x"], { kind: "broken", what: expect.stringContaining("it takes any number of arguments") }],
    ["low", [1], { value: 254 }],
    [
      "low",
      [256],
      { kind: "broken", what: expect.stringContaining("byte of low: 256 is out of the range of unsigned char") },
    ],
    ["low", [-1], { kind: "broken" }],
    ["small", [-128], { value: -128 }],
    ["widest", [{ "~int": "18446744073709551615" }], { value: { "~int": "18446744073709551615" } }],
    ["widest", [{ "~int": "18446744073709551616" }], { kind: "broken" }],
    ["single", [0.1], { value: 0.10000000149011612 }],
    ["first_char", ["é"], { value: -61 }],
    ["check_sum", [{ "~bytes": "AQI=" }], { value: 33 }],
    ["check_sum", [[1, 2]], { value: 33 }],
    ["check_sum", ["ab"], { kind: "broken" }],
    ["name_of", ["x"], { kind: "broken" }],
    ["upper", ["a\u0000b"], { kind: "broken", what: expect.stringContaining("NUL") }],
    ["length_of", [{ value: 1, next: { value: 2, next: null } }], { value: 2 }],
    ["loop", [], { value: { "~obj": "chain", fields: { value: 1, next: { "~ref": 0 } } } }],
    ["words", [], { value: ["a", "b"] }],
    ["hidden", [1], { value: 5 }],
    ["no_such", [], { kind: "skipped" }],
    ["sum", [], { kind: "broken", what: expect.stringContaining("sum takes 1 arguments, not 0") }],
  ])("%s(%j)", async (name, args, expected) => {
    expect(await side.call(name, ...args)).toMatchObject(expected);
  });

  it("changes a struct by its address, and hands one over by value", async () => {
    const risen = await side.call("rise", lock, 2);
    expect(risen.args[0]).toMatchObject({
      "~obj": "lock",
      fields: { level: 3.5, gates: [2, 2], flags: { fields: { wet: 1, depth: -3 } } },
    });
    const { value } = await side.call("shut", lock);
    expect(value).toMatchObject({
      fields: { name: "Ebb", state: 5, flags: { fields: { wet: 0 } }, either: { "~opaque": "<union>" } },
    });
  });

  it("gives each case its variables as they were loaded", async () => {
    expect((await side.call("count_up")).value).toBe(2);
    expect((await side.call("count_up")).value).toBe(2);
    expect((await side.call("kept_by_function")).value).toBe(1);
    expect((await side.call("kept_by_function")).value).toBe(1);
    await side.call("remember", "x");
    expect((await side.call("remembered")).value).toBeNull();
  });

  it("tells where a crash struck, and goes on", async () => {
    const crash = await side.call("boom", null);
    expect(crash).toMatchObject({ kind: "broken", why: "crashed", what: expect.stringContaining("SIGSEGV") });
    expect(crash.lastOutput).toMatch(/boom at locks\.c:\d+/);
    expect(await side.call("divide", 1, 0)).toMatchObject({ kind: "broken", what: expect.stringContaining("SIGFPE") });
    expect(await side.call("stop")).toMatchObject({ kind: "broken", what: expect.stringContaining("SIGABRT") });
    expect(await side.call("leave", 3)).toMatchObject({
      kind: "broken",
      why: "ended",
      what: "it ended the process: exit(3)",
    });
    expect((await side.call("sum", [1])).value).toBe(1);
  });

  it("breaks only what needs a library that is missing, or a file that does not compile", async () => {
    const broken = await side.call("uses_library", 1);
    expect(broken).toMatchObject({
      kind: "broken",
      what: expect.stringContaining("it calls other_library, which no source"),
    });
    const file = await side.callIn("broken", "fine");
    expect(file).toMatchObject({ kind: "broken", why: "would-not-load" });
    expect(file.what).toMatch(/^src\/broken\.c:2: .*missing_name/);
  });

  it("tells same names in two files apart, and calls what a header defines", async () => {
    expect((await side.callIn("walker", "same_name")).value).toBe(1);
    expect((await side.callIn("other", "calls_same")).value).toBe(2);
    expect((await side.callIn("walker", "helper")).value).toBe(1);
    expect((await side.callIn("other", "helper")).value).toBe(2);
    expect((await side.callIn("only", "from_header", 4)).value).toBe(5);
    expect((await side.callIn("header", "doubled", 4)).value).toBe(8);
  });

  it("counts what is still held at the end of steps, and tells errno, where it is asked", async () => {
    const held = await startSide(
      "c",
      {
        "held.c": `
#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <stdio.h>
struct jar { char *label; };
struct jar *jar_new(const char *label) { struct jar *made = malloc(sizeof *made); made->label = strdup(label); return made; }
void jar_free(struct jar *jar) { free(jar->label); free(jar); }
void jar_drop(struct jar *jar) { free(jar); }
void jar_grow(struct jar *jar) { jar->label = realloc(jar->label, 5000); printf("grown"); }
double number(const char *text) { return strtod(text, NULL); }
`,
      },
      { port: { allocations: true, observe: ["errno"] } },
    );
    const ending = async (last: string) => {
      const made = { new: "jar", args: ["x"], as: "j" };
      const { leaks } = await held.steps([made, { call: "jar_grow", on: "j" }, { call: last, on: "j" }]);
      return leaks;
    };
    expect(await ending("jar_free")).toEqual({ blocks: 0 });
    expect(await ending("jar_drop")).toEqual({ blocks: 1 });
    expect(await ending("jar_grow")).toEqual({ blocks: 2 });
    expect(await held.call("number", "1.5")).toMatchObject({ value: 1.5, errno: 0, leaks: { blocks: 0 } });
    expect(await held.call("number", "1e999")).toMatchObject({ value: { "~num": "Infinity" }, errno: 34 });
    held.close();
  });

  it("fixes the clock and the seed", async () => {
    const source =
      "#include <stdlib.h>\n#include <time.h>\nlong now(void) { return (long)time(NULL); }\nint dice(void) { return rand(); }\n";
    const fixed = await startSide("c", { "t.c": source }, { port: { now: "2031-04-02T08:00:00+02:00", seed: 7 } });
    expect((await fixed.call("now")).value).toBe(Date.UTC(2031, 3, 2, 6) / 1000);
    const other = await startSide("c", { "t.c": source });
    expect((await fixed.call("dice")).value).not.toBe((await other.call("dice")).value);
    expect((await fixed.call("dice")).value).toBe((await fixed.call("dice")).value);
    expect((await other.call("now")).value).toBeGreaterThan(1.7e9);
    fixed.close();
    other.close();
  });

  it("ends the process where state lies elsewhere", async () => {
    const source = `#include <stdlib.h>
static _Thread_local int mine;
static int *made;
__attribute__((constructor)) static void first(void) { made = calloc(1, sizeof *made); }
int of_thread(void) { return ++mine; }
int of_start(void) { return ++*made; }
`;
    const apart = await startSide("c", { "t.c": source });
    for (const name of ["of_thread", "of_thread", "of_start", "of_start"])
      expect((await apart.call(name)).value).toBe(1);
    apart.close();
  });

  it("names what a function returns as a handle, and hands it to steps", async () => {
    const walk = await startSide("c", { "walker.c": WALKER.replace('"locks.h"', '"w.h"'), "w.h": "struct walker;\n" });
    const { steps } = await walk.steps([
      { new: "walker", args: [3], as: "w" },
      { call: "step", on: "w", args: [4] },
      { get: "at", on: "w" },
      { set: "at", on: "w", value: 50 },
      { call: "walker_step", args: [{ "~as": "w" }, 1] },
    ]);
    expect(steps.map(({ value }) => value)).toEqual([{ "~obj": "new", fields: {} }, 7, 7, null, 51]);
    walk.close();
  });
});
