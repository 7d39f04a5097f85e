/** Mending: a family of 20 cases in a module of 300 lines, with a small fault, and with one that no small change mends. */
import { mkdirSync, writeFileSync } from "node:fs";
import path from "node:path";
import { mendPort } from "@/service/mending/mend";

const SECTIONS = 20;
const CASES = 20;
const SECONDS = 20;

/** A function of some 15 lines with branches of its own. */
const python = (index: number) => `def gauge_${index}(level, flow=0):
    total = level * ${index + 2}
    if flow > ${index + 5}:
        total += flow // 2
    elif flow < 0:
        total -= ${index}
    steps = []
    for at in range(3):
        if total % (at + 2) == 0:
            steps.append(at + total)
        else:
            steps.append(at)
    if level >= 10:
        return {"sum": sum(steps) + 1, "deep": True}
    return {"sum": sum(steps), "deep": False}


`;

const javascript = (index: number) => `export function gauge_${index}(level, flow = 0) {
  let total = level * ${index + 2};
  if (flow > ${index + 5}) {
    total += Math.floor(flow / 2);
  } else if (flow < 0) {
    total -= ${index};
  }
  const steps = [];
  for (let at = 0; at < 3; at++) {
    if (((total % (at + 2)) + at + 2) % (at + 2) === 0) steps.push(at + total);
    else steps.push(at);
  }
  if (level >= 10) return { sum: steps.reduce((sum, step) => sum + step, 0) + 1, deep: true };
  return { sum: steps.reduce((sum, step) => sum + step, 0), deep: false };
}

`;

const write = (make: (index: number) => string) => Array.from({ length: SECTIONS }, (_, index) => make(index)).join("");

type Fault = {
  readonly title: string;
  readonly twin: "javascript" | "python";
  readonly right: string;
  readonly wrong: string;
};

/** Faults of the twin: the first is mended by one small change, the others by none. */
const FAULTS: readonly Fault[] = [
  {
    title: "a small fault",
    twin: "javascript",
    right: "total += Math.floor(flow / 2);\n  } else if (flow < 0) {\n    total -= 7;",
    wrong: "total += Math.ceil(flow / 2);\n  } else if (flow < 0) {\n    total -= 7;",
  },
  {
    title: "no small change mends it",
    twin: "javascript",
    right:
      "steps.push(at + total);\n    else steps.push(at);\n  }\n  if (level >= 10) return { sum: steps.reduce((sum, step) => sum + step, 0) + 1, deep: true };\n  return { sum: steps.reduce((sum, step) => sum + step, 0), deep: false };\n}\n\nexport function gauge_8(",
    wrong:
      "steps.unshift(total ^ at);\n    else steps.push(at & total);\n  }\n  return { sum: steps.reduce((sum, step) => sum * 31 + step, 7), deep: level > 31 };\n}\n\nexport function gauge_8(",
  },
  {
    title: "no small change mends it, in Python",
    twin: "python",
    right:
      '            steps.append(at + total)\n        else:\n            steps.append(at)\n    if level >= 10:\n        return {"sum": sum(steps) + 1, "deep": True}\n    return {"sum": sum(steps), "deep": False}\n\n\ndef gauge_8(',
    wrong:
      '            steps.insert(0, total ^ at)\n        else:\n            steps.append(at & total)\n    return {"sum": sum(steps) * 31 + 7, "deep": level > 31}\n\n\ndef gauge_8(',
  },
];

/** One line a fault. */
export async function benchMend(work: string, say: (line: string) => void): Promise<void> {
  for (const [index, { title, twin: language, right, wrong }] of FAULTS.entries()) {
    const folder = path.join(work, `mend-${index}`);
    for (const name of ["original", "twin", "cases"]) mkdirSync(path.join(folder, name), { recursive: true });
    const [twin, ending] = language === "python" ? [write(python), "py"] : [write(javascript), "mjs"];
    if (!twin.includes(right)) throw new Error(`the fault "${title}" has no place`);
    const [original, other] = language === "python" ? ["gauges.mjs", "javascript"] : ["gauges.py", "python"];
    writeFileSync(path.join(folder, "original", original), language === "python" ? write(javascript) : write(python));
    writeFileSync(path.join(folder, "twin", `gauges.${ending}`), twin.replace(right, wrong));
    const cases = Array.from({ length: CASES * 2 }, (_, at) => ({
      id: `c${at}`,
      module: "gauges",
      call: "gauge_7",
      args: [at % 14, at < CASES ? 13 + 2 * at : at % 12],
    }));
    const others = Array.from({ length: SECTIONS * 5 }, (_, at) => ({
      id: `o${at}`,
      module: "gauges",
      call: `gauge_${at % SECTIONS}`,
      args: [at % 3, 0],
    }));
    writeFileSync(
      path.join(folder, "cases/c.jsonl"),
      `${[...cases, ...others].map((item) => JSON.stringify(item)).join("\n")}\n`,
    );
    writeFileSync(
      path.join(folder, "side-twin.json"),
      JSON.stringify({
        format: "side-twin/port",
        version: 1,
        name: "Gauges",
        original: { root: "original", language: other },
        twins: [{ name: "twin", root: "twin", language }],
      }),
    );
    const started = performance.now();
    let checked = started;
    let trying = started;
    const { families } = await mendPort(folder, {
      data: path.join(folder, "data"),
      seconds: SECONDS,
      onStep: (words) => {
        if (words !== "checking" && checked === started) checked = performance.now();
        if (/: trying \d+ changes$/.test(words)) trying = performance.now();
      },
    });
    const seconds = (performance.now() - checked) / 1000;
    const search = (performance.now() - trying) / 1000;
    const tried = families.reduce((sum, family) => sum + family.tried, 0);
    const mended = families.filter(({ best }) => best !== null).length;
    const sizes = families.map((family) => family.cases.length).join(" and ");
    say(
      `mending, ${title}: ${families.length} families of ${sizes} cases, ${mended} mended, ${tried} changes tried, done ${seconds.toFixed(1)} s after the check; ${Math.round(tried / search)} changes/s while they are tried (reach: 200; the first mend within 5 s)`,
    );
  }
}
