/** The Phrasebook, the Journal and the ladder driven as a person does. */
import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  accessibilityFaults,
  bringIn,
  pressWords,
  type RunningServer,
  startBrowser,
  startServer,
} from "@/testing/browser";
import { portFile, temporaryFolder, writeFiles } from "@/testing/temporary-port";

let server: RunningServer;
let browser: Awaited<ReturnType<typeof startBrowser>>;
let page: Page;
let id: string;
let folder: string;

const TWIN = `import { half } from "./sums";
export const berth = (length: number): number => Math.round(length / 2);
export const gap = (length: number): number => Math.round(length / 4);
export const line = (length: number): number => Math.round(length * 10) / 10;
export const other = (length: number): number => half(length);
`;

beforeAll(async () => {
  const browse = temporaryFolder({
    "port/side-twin.json": portFile({
      name: "Quay",
      original: { root: "original", language: "python" },
      ladder: [
        {
          name: "typed",
          check: { command: ["node", "grumble.cjs"], reads: "tsc" },
        },
        { name: "same", gain: "nobody sees a change", cases: "agree" },
      ],
      twins: [{ name: "ts", root: "twin", language: "typescript", ignore: ["sums.ts", "grumble.cjs"] }],
    }),
    "port/original/quay.py":
      "def berth(length): return round(length / 2)\ndef gap(length): return round(length / 4)\n" +
      "def line(length): return round(length * 10) / 10\ndef other(length): return round(length)\n",
    "port/twin/quay.ts": TWIN,
    // A made-up compiler that does not like halves in the second line.
    "port/twin/grumble.cjs":
      'const line = require("fs").readFileSync("quay.ts", "utf8").split("\\n")[1];' +
      'if (/round/.test(line)) { console.log("quay.ts(2,51): error TS9001: Say which way halves go."); process.exit(1); }',
    "port/twin/sums.ts":
      "export function half(amount: number): number {\n  const low = Math.floor(amount);\n" +
      "  if (amount - low !== 0.5) return Math.round(amount);\n  return low % 2 === 0 ? low : low + 1;\n}\n",
    "port/cases/quay.jsonl": [
      { id: "berth", module: "quay", call: "berth", args: [1] },
      { id: "gap", module: "quay", call: "gap", args: [2] },
      { id: "line", module: "quay", call: "line", args: [1] },
    ],
  });
  folder = path.join(browse, "port");
  server = await startServer({ command: "serve", browse });
  browser = await startBrowser();
  page = await browser.newPage();
  await page.goto(server.url);
  id = await page.evaluate(async (where) => {
    const response = await fetch("/api/ports", { method: "POST", body: JSON.stringify({ folder: where }) });
    return (await response.json()).id;
  }, folder);
  await page.goto(`${server.url}/port/${id}/phrasebook`);
  await page.waitForSelector("main[aria-label=Places]");
});

afterAll(async () => {
  await browser?.stop();
  await server?.stop();
});

const has = (words: string) => page.waitForFunction((wanted) => document.body.innerText.includes(wanted), {}, words);
const twinOnDisk = () => readFileSync(path.join(folder, "twin/quay.ts"), "utf8");

describe("the Phrasebook", () => {
  it("tries a phrase while it is typed, and says what is wrong with it", async () => {
    await page.keyboard.press("N");
    const from = await page.waitForSelector("#phrase-from");
    await from?.type("Math.round((:amount:)");
    await page.waitForSelector("form [role=alert]");
    await from?.type(")");
    await page.type("#phrase-to", "half((:amount:))");

    await has("3 places would change");
    await page.type("#phrase-why", "halves go to the even neighbour");
    await page.keyboard.press("Enter");
    await has("halves go to the even neighbour");
    await page.waitForSelector("[data-fate=ready]");
    const book = JSON.parse(readFileSync(path.join(folder, "phrases.json"), "utf8"));
    expect(book.phrases).toMatchObject([
      { kind: "code", language: "typescript", from: "Math.round((:amount:))", to: "half((:amount:))" },
    ]);
  });

  it("leaves one place out this time and keeps another for good, with a reason", async () => {
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("q");
    await page.waitForSelector("[data-fate=refused]");
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("k");
    await (await page.waitForSelector("[aria-label='Why it stays']"))?.type("tenths only");
    await page.keyboard.press("Enter");
    await page.waitForSelector("[data-fate=kept]");
    expect(readFileSync(path.join(folder, "phrases.json"), "utf8")).toContain('"why": "tenths only"');
  });

  it("applies the rest, checks the twin, and puts the file back to the byte", async () => {
    await page.keyboard.press("Y");
    await has("1 place changed in 1 file");
    const expected = TWIN.replace("Math.round(length / 2)", "half(length / 2)");
    expect(twinOnDisk()).toBe(expected);
    await page.keyboard.press("u");
    await has("Put back");
    expect(twinOnDisk()).toBe(TWIN);
  });

  it("names what is wrong in a broken file, and shows the phrases again once it is mended", async () => {
    const file = path.join(folder, "phrases.json");
    const good = readFileSync(file, "utf8");
    writeFileSync(file, good.slice(0, 90));
    await has("Not JSON");
    expect(await page.$("[data-fate]")).toBeNull();
    writeFileSync(file, good);
    await page.waitForSelector("[data-fate=ready]");
  });
});

describe("phrases that make cases worse", () => {
  const file = () => path.join(folder, "phrases.json");
  let good = "";

  it("are found by halving, place by place, after the check says that a case newly differs", async () => {
    good = readFileSync(file(), "utf8");
    const book = JSON.parse(good);
    book.phrases.push({ id: "wrong", kind: "code", language: "typescript", from: "(:n:) * 10", to: "(:n:) * 20" });
    await page.waitForSelector("[data-check=idle]");
    await page.keyboard.press("c");
    await page.waitForSelector("[data-check=running]");
    await page.waitForSelector("[data-check=idle]");
    writeFileSync(file(), JSON.stringify(book));
    await has("n * 20");
    await page.keyboard.press("Y");
    await has("1 newly differs");
    expect(twinOnDisk()).toContain("length * 20");
    await page.keyboard.press("W");
    // One place is of the old way yet.
    await has("quay: 1 old");
    await has("wrong at quay.ts:4 makes 1 case differ: line");
  });

  it("are taken back alone, and the case agrees again", async () => {
    await page.keyboard.press("Delete");
    await has("1 place taken back");
    expect(twinOnDisk()).toContain("length * 10");
    expect(twinOnDisk()).toContain("half(length / 2)");
    await has("1 case mended");
    // Undo goes back over both snapshots, also when the view has not been read again between the two.
    await page.keyboard.press("u");
    await has("Put back: 1 place of the phrasebook taken back");
    await page.keyboard.press("u");
    await page.waitForFunction(() => /Put back: \d places? of the phrasebook on/.test(document.body.innerText));
    expect(twinOnDisk()).toBe(TWIN);
    writeFileSync(file(), good);
  });
});

describe("a phrase begun on the Bench", () => {
  it("has what was selected on both pages, with equal parts as blanks", async () => {
    writeFiles(path.join(path.dirname(folder), "alike"), {
      "side-twin.json": portFile({
        name: "Alike",
        original: { root: "original", language: "javascript" },
        twins: [{ name: "ts", root: "twin", language: "typescript" }],
        phrasebook: ["phrases.json"],
      }),
      "phrases.json": { format: "side-twin/phrasebook", version: 1, phrases: [] },
      "original/m.js": "export const f = (n) => Math.round(n * 2);\nexport const g = (n) => Math.round(n + 1);\n",
      "twin/m.ts": "export const f = (n: number) => half(n * 2);\nexport const g = (n: number) => Math.round(n + 1);\n",
    });
    const alike = await bringIn(server, path.join(path.dirname(folder), "alike"));
    await page.goto(`${server.url}/port/${alike}/bench?module=m&section=f`);
    await page.waitForSelector("[data-section=f] [data-page=twin] code");
    const select = (side: string, words: string) =>
      page.evaluate(
        ([where, wanted]) => {
          const line = document.querySelector(`[data-section=f] [data-page=${where}] code`);
          const range = document.createRange();
          const walker = document.createTreeWalker(line as Element, NodeFilter.SHOW_TEXT);
          const whole = line?.textContent ?? "";
          const [from, to] = [whole.indexOf(wanted ?? ""), whole.indexOf(wanted ?? "") + (wanted ?? "").length];
          let at = 0;
          for (let node = walker.nextNode(); node; node = walker.nextNode()) {
            const length = node.textContent?.length ?? 0;
            if (from >= at && from < at + length) range.setStart(node, from - at);
            if (to > at && to <= at + length) range.setEnd(node, to - at);
            at += length;
          }
          const selection = document.getSelection();
          selection?.removeAllRanges();
          selection?.addRange(range);
        },
        [side, words],
      );
    await select("original", "Math.round(n * 2)");
    await select("twin", "half(n * 2)");
    await page.waitForSelector("[aria-label='Selected on both pages']");
    expect(await page.$eval("[aria-label='Selected on both pages']", (band) => band.textContent)).toMatch(
      /^Math\.round\(\(:a:\)\) becomes half\(\(:a:\)\)/,
    );
    expect(await accessibilityFaults(page)).toEqual([]);
    await pressWords(page, "Write a phrase of it");
    // The other place of the twin is still of the old way.
    await has("1 place would change");
    expect(await page.$eval("#phrase-from", (field) => (field as HTMLTextAreaElement).value)).toBe("Math.round((:a:))");
    await pressWords(page, "Cancel");
    await has("No phrases yet");
    expect(page.url()).not.toContain("from=");
  });
});

describe("the Journal", () => {
  it("tells what the product did, takes an assumption and closes it", async () => {
    await page.goto(`${server.url}/port/${id}/journal`);
    await has("Undone");
    await page.keyboard.press("w");
    await pressWords(page, "assumption");
    await page.type("[aria-label='Text of the entry']", "No berth is longer than 99 m");
    await page.keyboard.down("Control");
    await page.keyboard.press("Enter");
    await page.keyboard.up("Control");
    await has("1 open assumption");
    await pressWords(page, "It does not hold");
    await has("No open assumption");
    const lines = readFileSync(path.join(folder, "journal.jsonl"), "utf8").trim().split("\n");
    expect(JSON.parse(lines.at(-1) ?? "")).toMatchObject({ kind: "assumption", holds: "false" });
  });
});

describe("the ladder", () => {
  it("runs its checks from the Order, and the Bench shows each complaint below its line", async () => {
    await page.goto(`${server.url}/port/${id}/order`);
    await page.waitForSelector("[data-rung=typed]");
    await has("its check was not run");
    await page.keyboard.press("l");
    await has("1 error of its check");
    await has("1 complaint keeps it from typed");
    await page.goto(`${server.url}/port/${id}/bench?module=quay`);
    const complaint = await page.waitForSelector("[data-complaint]");
    expect(await complaint?.evaluate((item) => (item as HTMLElement).innerText)).toContain("Say which way halves go.");
    expect(await complaint?.evaluate((item) => item.previousElementSibling?.textContent)).toContain(
      "2export const berth",
    );
    await has("1 complaint");
    await page.waitForFunction(() => /1 complaint\b/.test(document.querySelector("header")?.innerText ?? ""));
  });

  it("is gone from the line once the twin is mended: a save runs the checks again", async () => {
    writeFileSync(path.join(folder, "twin/quay.ts"), TWIN.replace("Math.round(length / 2)", "half(length / 2)"));
    await page.waitForFunction(() => document.querySelector("[data-complaint]") === null);
    await has("no complaint");
    await page.waitForFunction(() => /0 complaints/.test(document.querySelector("header")?.innerText ?? ""));
  });

  it("is mended in the row itself, only whose lines change, and undone", async () => {
    const file = path.join(folder, "twin/quay.ts");
    const before = readFileSync(file, "utf8");
    await page.keyboard.press("w");
    await page.waitForSelector(".cm-content");
    await page.keyboard.type("// by hand\n");
    await page.keyboard.down("Control");
    await page.keyboard.press("s");
    await page.keyboard.up("Control");
    await has("Saved, and checked again.");
    const after = readFileSync(file, "utf8");
    expect(after).toContain("// by hand\n");
    expect(after.replace("// by hand\n", "")).toBe(before);
    await page.locator(".MuiSnackbar-root ::-p-text(Undo)").click();
    await has("Undone.");
    expect(readFileSync(file, "utf8")).toBe(before);
    await page.locator(".MuiSnackbar-root ::-p-text(Redo)").click();
    await has("Done again.");
    expect(readFileSync(file, "utf8")).toBe(after);
    await page.keyboard.press("u");
    await has("Undone: ");
    expect(readFileSync(file, "utf8")).toBe(before);
    await page.keyboard.press("U");
    await has("Done again: ");
    expect(readFileSync(file, "utf8")).toBe(after);
    await page.keyboard.press("u");
    await has("Undone: ");
    expect(readFileSync(file, "utf8")).toBe(before);
  });

  it("shows both texts where somebody else saved the file meanwhile, and writes over neither", async () => {
    const file = path.join(folder, "twin/quay.ts");
    const before = readFileSync(file, "utf8");
    await page.keyboard.press("w");
    await page.waitForSelector(".cm-content");
    await page.keyboard.type("// mine\n");
    writeFileSync(file, `// theirs\n${before}`);
    await page.keyboard.down("Control");
    await page.keyboard.press("s");
    await page.keyboard.up("Control");
    await has("was changed by somebody else meanwhile");
    expect(readFileSync(file, "utf8")).toBe(`// theirs\n${before}`);
    await pressWords(page, "Take theirs");
    await page.waitForSelector("[aria-label='Changed on disk']", { hidden: true });
  });
});
