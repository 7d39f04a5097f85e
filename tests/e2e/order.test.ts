/** The map with a knot and a drifted module, the effort, and pairing by hand on the Bench, as a user works with them. */
import { readFileSync } from "node:fs";
import path from "node:path";
import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  accessibilityFaults,
  bringIn,
  press,
  type RunningServer,
  shownText,
  startBrowser,
  startServer,
  waitForText,
  watchComplaints,
} from "@/testing/browser";
import { gitIn } from "@/testing/git";
import { portFile, temporaryFolder, writeFiles } from "@/testing/temporary-port";

let server: RunningServer;
let browser: Awaited<ReturnType<typeof startBrowser>>;
let page: Page;
let id: string;
let complaints: string[] = [];
const TIDES = "def height(t):\n    return t + 1\n\ndef price_of(n):\n    return 'quay' * n\n";
const browse = temporaryFolder({
  "p/side-twin.json": portFile({ name: "Quays" }),
  "p/original/tides.py": TIDES,
  "p/original/plan.py": "import sheet\nfrom tides import height\ndef plan(n):\n    return height(n)\n",
  "p/original/sheet.py": "from plan import plan\ndef sheet(n):\n    return plan(n)\n",
  "p/original/lamps.py": "def lamps(n):\n    return n\n",
  "p/twin/tides.ts":
    "export const height = (t: number) => t + 1;\nexport function harbourDue(n: number): string {\n  return 'nothing alike';\n}\n",
  "p/cases/t.jsonl": [
    { id: "h1", module: "tides", call: "height", args: [1] },
    { id: "l1", module: "lamps", call: "lamps", args: [1] },
  ],
});
const original = path.join(browse, "p/original");
const git = gitIn(original);
const text = (selector: string) => shownText(page, selector);
const saying = (selector: string, words: string) => waitForText(page, selector, words);
const relation = (module: string) =>
  page.$eval(`[data-module=${module}]`, (element) => element.getAttribute("data-relation"));
const chosen = () => page.$eval("[data-module][aria-pressed=true]", (element) => element.getAttribute("data-module"));
const check = async () => {
  await page.keyboard.press("c");
  await page.waitForFunction(() => /of \d+ cases|Stop/.test(document.querySelector("[data-check]")?.textContent ?? ""));
  await page.waitForFunction(() => document.querySelector("[data-check=idle]") !== null);
};

beforeAll(async () => {
  git("init", "-q");
  git("add", "-A");
  git("commit", "-qm", "as it was ported");
  server = await startServer({ command: "serve", browse });
  id = await bringIn(server, path.join(browse, "p"));
  browser = await startBrowser();
  page = await browser.newPage();
  complaints = watchComplaints(page);
});

afterAll(async () => {
  await browser?.stop();
  await server?.stop();
});

describe("the map of the Order", () => {
  it("shows modules that need each other as one knot, and how it comes undone", async () => {
    await page.goto(`${server.url}/port/${id}/order`);
    await page.waitForSelector("[data-knot]");
    expect(await text("[data-knot]")).toMatch(/import cycle: cut (plan → sheet|sheet → plan), 1 import/);
    expect(await page.$$eval("[data-knot] [data-module]", (list) => list.length)).toBe(2);
    expect(await text("aside")).toMatch(/points/);
    await press(page, "[data-module=sheet]");
    await saying("[aria-label='Its knot']", "In a knot with 1 module");
    expect(await text("[aria-label='Its knot']")).toMatch(/comes undone without (plan → sheet|sheet → plan)\./);
    await press(page, "[aria-label='Its knot'] button");
    expect(await chosen()).toBe("plan");
    expect(await accessibilityFaults(page)).toEqual([]);
  });

  it("lights up the path of a module, and is walked along it by keys", async () => {
    await press(page, "[data-module=sheet]");
    expect(await Promise.all(["plan", "tides", "lamps"].map(relation))).toEqual(["needed", "below", "other"]);
    await page.keyboard.press("<");
    expect(await chosen()).toBe("plan");
    await page.keyboard.press("<");
    expect(await chosen()).toBe("sheet");
    await press(page, "[data-module=tides]");
    await page.keyboard.press(">");
    expect(await chosen()).toBe("plan");
  });

  it("is looked at from farther and closer", async () => {
    await page.keyboard.press("-");
    await page.keyboard.press("-");
    expect(await text("[data-module=tides]")).toBe("");
    expect(await page.$eval("[data-module=tides]", (element) => element.getAttribute("aria-label"))).toMatch(
      /tides: 5 lines/,
    );
    await page.keyboard.press("+");
    await page.keyboard.press("+");
    expect(await text("[data-module=tides]")).toMatch(/tides/);
  });

  it("draws what is left from the second check on, and suggests what is next with its reasons", async () => {
    await check();
    expect(await text("[aria-label=Effort]")).toMatch(/points are left/);
    await check();
    await page.waitForSelector("[aria-label=Effort] canvas");
    // Without the module that was chosen, which is in the address.
    await page.goto(`${server.url}/port/${id}/order`);
    await page.waitForSelector("aside h1");
    const said = await text("aside");
    expect(said).toMatch(/is done together with (sheet|plan), as they need each other/);
    expect(said).toMatch(/it has no case yet/);
  });
});

describe("a module that nobody needs", () => {
  it("is left out with a reason, and taken in again", async () => {
    await press(page, "[data-module=lamps]");
    await press(page, "::-p-text(Exclude from the port)");
    await page.type("[aria-label='Why it is excluded']", "the lamps are gone");
    await press(page, "details button");
    await saying("aside", "the lamps are gone");
    await saying("[data-module=lamps]", "excluded");
    await press(page, "::-p-text(Include again)");
    await saying("[data-module=lamps]", "ready");
  });
});

describe("the Bench", () => {
  it("says why sections are paired, and takes a person's word, kept in the port file", async () => {
    await page.goto(`${server.url}/port/${id}/bench?module=tides&section=price_of`);
    await saying("[data-section=price_of]", "not ported yet");
    await page.keyboard.press("e");
    await saying("[role=dialog]", "Nothing was found that is like it");
    await page.evaluate(() => {
      const options = [...document.querySelectorAll<HTMLLabelElement>("[role=dialog] label")];
      options.find((option) => option.innerText.includes("harbourDue"))?.click();
    });
    await page.type("[role=dialog] [aria-label=Why]", "due and price are one");
    expect(await accessibilityFaults(page)).toEqual([]);
    await press(page, "::-p-text(Save pair)");
    await saying("[data-section=price_of]", "paired by hand");
    const { pairs } = JSON.parse(readFileSync(path.join(browse, "p/side-twin.json"), "utf8"));
    expect(pairs).toEqual([{ original: "tides.price_of", twin: "tides.harbourDue", note: "due and price are one" }]);
  });

  it("shows what the original changed after it was ported, who did, and settles it on a person's word", async () => {
    // No case runs the new branch, so no check that follows the save settles it.
    const changed = TIDES.replace("return t + 1", "if t > 90:\n        return 91\n    return 1 + t");
    writeFiles(original, { "tides.py": changed });
    await page.waitForSelector("[data-drift=height]");
    await saying("[data-drift=height]", "not committed yet");
    git("commit", "-qam", "no tide above 91");
    await page.reload();
    await saying("[data-drift=height]", "no tide above 91");
    expect(await text("[data-drift=height]")).toMatch(
      /was\s+return t \+ 1\s+is\s+2\s+if t > 90:\s+is\s+3\s+return 91\s+is\s+4\s+return 1 \+ t/,
    );
    expect(await text("header + div")).toMatch(/drifted: height/);
    expect(await accessibilityFaults(page)).toEqual([]);
    await press(page, "::-p-text(The twin already does this)");
    await page.waitForFunction(() => !document.querySelector("[data-drift]"));
  });

  it("had no complaint from the browser", () => {
    expect(complaints).toEqual([]);
  });
});
