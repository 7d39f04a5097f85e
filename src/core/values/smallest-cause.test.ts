import { describe, expect, it } from "vitest";
import { smallestCause } from "@/core/values/smallest-cause";

const numbers = (count: number) => Array.from({ length: count }, (_, index) => index);
const search = async (count: number, culprits: readonly number[], isOver?: () => boolean) => {
  let questions = 0;
  const cause = await smallestCause(
    numbers(count),
    async (part) => {
      questions++;
      return culprits.every((culprit) => part.includes(culprit));
    },
    isOver,
  );
  return { cause, questions };
};

describe("the smallest cause", () => {
  it.each([1, 2, 3, 7, 64, 1000])("is one of %i", async (count) => {
    for (const culprit of new Set([0, count >> 1, count - 1]))
      expect((await search(count, [culprit])).cause).toEqual([culprit]);
  });

  it("is found in about twice the logarithm of questions where it is one", async () => {
    expect((await search(1024, [700])).questions).toBeLessThanOrEqual(20);
  });

  it.each([
    [10, [0, 9]],
    [33, [4, 5, 30]],
    [5, [0, 1, 2, 3, 4]],
  ])("of %i may need several: %j", async (count, culprits) => {
    expect((await search(count, culprits)).cause).toEqual(culprits);
  });

  it("is the smallest so far when time is over", async () => {
    expect((await search(8, [3], () => true)).cause).toEqual(numbers(8));
  });
});
