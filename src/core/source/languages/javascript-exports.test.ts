import { describe, expect, it } from "vitest";
import { exportsOf } from "@/core/source/languages/javascript-exports";

const names = (text: string) => {
  const found = exportsOf(text);
  return found && [...found].sort();
};

describe("what a JavaScript file exports", () => {
  it.each([
    ["export function quay() {}\nfunction hidden() {}", ["quay"]],
    ["export async function* tides() {}", ["tides"]],
    ["export default class Berth {}", ["Berth"]],
    ["const berth = 1;\nexport default berth;", ["berth"]],
    ["export const [a] = b, quay = 1;\nexport abstract class Crane {}", ["Crane"]],
    ["function a() {}\nfunction b() {}\nexport { a, b as other };", ["a", "b"]],
    ["export { far } from './far';\nexport function near() {}", ["near"]],
    ["exports.quay = function () {};\nfunction hidden() {}", ["quay"]],
    ["function compute() {}\nexports.price = compute;", ["compute", "price"]],
    ["module.exports = quay;\nfunction quay() {}", ["quay"]],
    ["module.exports = {\n  quay,\n  berth: { at: deep },\n};\nfunction hidden() {}", ["at", "berth", "deep", "quay"]],
    ["Object.assign(module.exports, { quay });\nfunction hidden() {}", ["quay"]],
  ])("of %j", (text, expected) => expect(names(text)).toEqual(expected));

  it("takes a script for one that shares everything", () => {
    expect(names("function quay() {}")).toBeNull();
    expect(names("if (module.exports === quay) run();")).toBeNull();
  });
});
