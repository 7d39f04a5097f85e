/** Generic functions in Go: registered for the types that their constraints allow. */
import { execFileSync } from "node:child_process";
import { afterAll, describe, expect, it } from "vitest";
import { startSide } from "./side";

const FILES = {
  "tide.go": `package tide

import "cmp"

type Number interface {
	~int | ~float64
}

func Largest[T cmp.Ordered](list []T) T {
	best := list[0]
	for _, one := range list[1:] {
		if one > best {
			best = one
		}
	}
	return best
}

func Total[N Number](list ...N) N {
	var sum N
	for _, one := range list {
		sum += one
	}
	return sum
}

func Keys[K cmp.Ordered, V any](given map[K]V) int { return len(given) }

func First[S ~[]E, E any](list S) E { return list[0] }

func Shown[T interface{ String() string }](value T) string { return value.String() }
`,
};

it("files without a module are compiled in the language of the toolchain", async () => {
  const version = /go1\.(\d+)/.exec(execFileSync("go", ["version"], { encoding: "utf8" }))?.[1];
  // Ranging over a number came with 1.22.
  const loop = Number(version) >= 22 ? "range n" : "i := 0; i < n; i++";
  const source = `package yard\n\nfunc Sum(n int) int {\n\tsum := 0\n\tfor ${loop} {\n\t\tsum += n\n\t}\n\treturn sum\n}\n`;
  const side = await startSide("go", { "yard.go": source });
  expect(await side.call("Sum", 4)).toMatchObject({ value: 16 });
  side.close();
});

describe("a generic function", () => {
  const side = startSide("go", FILES);
  afterAll(async () => (await side).close());

  it.each([
    ["Largest", [[3, 9, 4]], { value: 9 }],
    ["Largest", [[0.5, 0.25]], { value: 0.5 }],
    ["Largest", [["auk", "tern"]], { value: "tern" }],
    ["Total", [1, 2, 3], { value: 6 }],
    ["Total", [1.5, 2], { value: 3.5 }],
    ["Keys", [{ a: 1, b: 2 }], { value: 2 }],
    ["First", [["x", "y"]], { value: "x" }],
    ["Largest", [[true]], { kind: "broken" }],
    ["Largest", [[]], { thrown: { kind: "panic" } }],
    ["Shown", [1], { kind: "skipped" }],
  ])("%s(%j) is %j", async (name, args, wanted) => {
    expect(await (await side).call(name, ...args)).toMatchObject(wanted);
  });
});
