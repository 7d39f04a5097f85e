/** The equality of a port on one of its twins. */
import { expect, it } from "vitest";
import { parsePortFile } from "@/core/formats/port-file";
import { equalityOn } from "@/core/values/equality";

const port = (languages: readonly [string, string, string], equality: object = {}) =>
  parsePortFile(
    JSON.stringify({
      format: "side-twin/port",
      version: 1,
      name: "Quays",
      original: { root: "original", language: languages[0] },
      twins: languages.slice(1).map((language, index) => ({ name: `t${index}`, root: `t${index}`, language })),
      equality,
    }),
    "side-twin.json",
  );

it("takes an empty list for an empty map where a side is PHP, unless the port says otherwise", () => {
  const of = (...given: Parameters<typeof port>) =>
    ["t0", "t1"].map((twin) => equalityOn(port(...given), twin).emptyKinds);
  expect(of(["python", "php", "go"])).toEqual(["relaxed", "strict"]);
  expect(of(["php", "rust", "go"])).toEqual(["relaxed", "relaxed"]);
  expect(of(["php", "rust", "go"], { emptyKinds: "strict" })).toEqual(["strict", "strict"]);
});
