import { describe, expect, it } from "vitest";
import { describeAllow, describeScope } from "@/core/allowances/describe";
import type { Allow } from "@/core/formats/allowance";

describe("allowances in words", () => {
  it.each<[Allow, string]>([
    [{ ignore: true }, "is not compared"],
    [{ number: { abs: 0.5, ulps: 4 } }, "numbers may differ by 0.5 or 4 steps of a double"],
    [{ number: { rel: 0.01 } }, "numbers may differ by 0.01 of the value"],
    [{ unordered: { by: "id" } }, "items belong together by id"],
    [{ unordered: true }, "the order does not count"],
    [{ text: true }, "blanks, line ends and Unicode form of texts do not count"],
    [
      { text: { case: true, replace: [{ pattern: "\\d+", with: "" }] } },
      "of texts upper and lower case, what matches \\d+ do not count",
    ],
    [{ errorKind: { ValueError: "RangeError" } }, "errors may be RangeError for ValueError"],
    [{ errorMessage: true }, "the message of an error does not count"],
    [{ keys: { plot_no: "plot" } }, "keys may be plot for plot_no"],
    [{ image: { channel: 2, share: 0.001 } }, "0.1 % of the pixels may differ by more than 2 of 255"],
    [{ timing: { ms: 20 } }, "lines may come 20 ms earlier or later"],
    [{ exactly: { original: 2, twin: [3] } }, "exactly 2 against [3]"],
  ])("%j", (allow, words) => {
    expect(describeAllow(allow)).toBe(words);
  });

  it("say of what they speak", () => {
    expect(describeScope({ where: {} })).toBe("every module");
    expect(describeScope({ where: { module: "fares", call: "fare_for", case: "f1", at: "value.**" } })).toBe(
      "fares.fare_for, case f1, at value.**",
    );
  });
});
