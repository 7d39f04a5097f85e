/** Type arguments of generic functions in Go. */
import { describe, expect, it } from "vitest";
import { isConstraint, typeArguments } from "@/engine/drivers/go/generics";

const of = (name: string, constraint: string) => ({ name, constraint });
const NONE = new Map<string, string>();

describe("type arguments", () => {
  it.each([
    ["any", ["[int]", "[float64]", "[string]"]],
    ["cmp.Ordered", ["[int]", "[float64]", "[string]"]],
    ["constraints.Integer", ["[int]"]],
    ["~int | ~float64", ["[int]", "[float64]"]],
    ["int64 | string", ["[string]"]],
    ["fmt.Stringer", []],
    ["interface{ Area() float64 }", []],
  ])("of %s are %j", (constraint, wanted) => {
    expect(typeArguments([of("T", constraint)], NONE)).toEqual(wanted);
  });

  it("follow the package's own constraints, one within another too", () => {
    const constraints = new Map([
      ["Number", "~int | ~float64"],
      ["Value", "Number | ~string"],
      ["Loop", "Loop"],
    ]);
    expect(typeArguments([of("T", "Number")], constraints)).toEqual(["[int]", "[float64]"]);
    expect(typeArguments([of("T", "Value")], constraints)).toEqual(["[int]", "[float64]", "[string]"]);
    expect(typeArguments([of("T", "Loop")], constraints)).toEqual([]);
    const names = (body: string) => isConstraint(body, constraints);
    expect([names("~int | ~float64"), names("Number"), names("comparable"), names("String() string\nNumber")]).toEqual([
      true,
      true,
      true,
      true,
    ]);
    expect([names("String() string"), names(""), names("Loop"), names("fmt.Stringer")]).toEqual([
      false,
      false,
      false,
      false,
    ]);
  });

  it("are of the same type for several, and texts as keys; lists are of what their items are", () => {
    expect(typeArguments([of("K", "comparable"), of("V", "any")], NONE)).toEqual([
      "[int, int]",
      "[float64, float64]",
      "[string, string]",
      "[string, int]",
    ]);
    expect(typeArguments([of("S", "~[]E"), of("E", "cmp.Ordered")], NONE)).toEqual([
      "[[]int, int]",
      "[[]float64, float64]",
      "[[]string, string]",
    ]);
    expect(typeArguments([of("T", "any"), of("W", "io.Writer")], NONE)).toEqual([]);
  });
});
