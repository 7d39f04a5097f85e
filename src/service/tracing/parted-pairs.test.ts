/** Faults two calls deep, in functions of the corpus of ported code: how many differing calls lead to them. */
import { expect, it } from "vitest";
import { runCheckOfFile } from "@/service/check/run-check";
import { partFamilies } from "@/service/tracing/part-families";
import { THIRD } from "@/testing/ported-pairs/third";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const camel = (name: string): string => name.replace(/_(\w)/g, (_all, letter: string) => letter.toUpperCase());

const outerPython = (call: string) => `from ${call}_m import ${call}

def middle_${call}(*given):
    return {"value": ${call}(*given)}

def top_${call}(*given):
    found = middle_${call}(*given)
    return [found, len(given)]
`;

const outerJavaScript = (call: string) => `import { ${camel(call)} } from "./${call}_m.js";

export function ${camel(`middle_${call}`)}(...given) {
  return { value: ${camel(call)}(...given) };
}

export function ${camel(`top_${call}`)}(...given) {
  const found = ${camel(`middle_${call}`)}(...given);
  return [found, given.length];
}
`;

it("most calls whose answers differ lead to the function that is wrong", async () => {
  const folder = temporaryFolder({
    "side-twin.json": portFile({
      twins: [{ name: "js", root: "twin", language: "javascript" }],
      names: { functions: "snake-to-camel" },
    }),
    ...Object.fromEntries(
      THIRD.flatMap(({ call, original, twin }) => [
        [`original/${call}_m.py`, `${original}\n`],
        [`twin/${call}_m.js`, `${twin}\n`],
        [`original/top_${call}.py`, outerPython(call)],
        [`twin/top_${call}.js`, outerJavaScript(call)],
      ]),
    ),
    "twin/package.json": { type: "module" },
    "cases/c.jsonl": THIRD.flatMap(({ call, inputs }) =>
      inputs.map((args, index) => ({ id: `${call}-${index}`, module: `top_${call}`, call: `top_${call}`, args })),
    ),
  });
  const { report } = await runCheckOfFile(folder, { part: partFamilies });
  const callOf = (id: string) => id.replace(/-\d+$/, "");
  const led = report.families.flatMap(({ inner, cases }) =>
    inner ? cases.map((id) => inner.section === `${callOf(id)}_m.${callOf(id)}`) : [],
  );
  expect(report.totals.differ).toBeGreaterThan(150);
  expect(led.length / report.totals.differ).toBeGreaterThanOrEqual(0.95);
  expect(led.filter(Boolean).length / led.length).toBeGreaterThanOrEqual(0.95);
  const wrong = THIRD.filter(({ cause }) => cause !== null).flatMap(({ call, cause }) => {
    const own = report.families.filter(({ cases }) => cases.some((id) => callOf(id) === call));
    const [best] = own[0]?.suspects ?? [];
    return own.length === 1 && best?.cause === cause ? [] : [`${call}: ${cause}, not ${best?.cause} of ${own.length}`];
  });
  expect(wrong.length / THIRD.length, wrong.join("; ")).toBeLessThanOrEqual(0.1);
});
