/** Cases that make themselves and a mend that is taken and undone, in the real browser. */
import { readFileSync } from "node:fs";
import path from "node:path";
import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { pressWords, type RunningServer, startBrowser, startServer } from "@/testing/browser";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const TWIN =
  'export function toll(tons, kind = "barge") {\n  if (tons > 41) return "long";\n  return "short " + kind;\n}\n';
const folder = temporaryFolder({
  "side-twin.json": portFile({
    twins: [{ name: "js", root: "twin", language: "javascript" }],
    cases: ["cases/*.jsonl"],
  }),
  "original/lock.py":
    'def toll(tons, kind="barge"):\n    if tons > 40:\n        return "long"\n    return "short " + kind\n',
  "original/run.py": "import lock\nprint(lock.toll(3), lock.toll(41))\n",
  "twin/lock.js": TWIN,
  "twin/package.json": { type: "module" },
});
let server: RunningServer;
let browser: Awaited<ReturnType<typeof startBrowser>>;
let page: Page;
let id: string;

beforeAll(async () => {
  server = await startServer({ command: "serve", browse: folder });
  browser = await startBrowser();
  page = await browser.newPage();
  await page.goto(server.url);
  id = await page.evaluate(async (where) => {
    const response = await fetch("/api/ports", { method: "POST", body: JSON.stringify({ folder: where }) });
    return (await response.json()).id;
  }, folder);
  await page.goto(`${server.url}/port/${id}/cases`);
});

afterAll(async () => {
  await browser?.stop();
  await server?.stop();
});

const has = (words: string) => page.waitForFunction((wanted) => document.body.innerText.includes(wanted), {}, words);
const twinOnDisk = () => readFileSync(path.join(folder, "twin/lock.js"), "utf8");
const cases = (name: string) => readFileSync(path.join(folder, "cases", name), "utf8");

describe("making cases", () => {
  it("leads from a port without cases to recorded ones, which can be taken out again", async () => {
    await has("No cases yet");
    await page.keyboard.press("4");
    await page.waitForSelector("#record-command");
    await page.type("#record-command", "python3 -c 'print(1)'");
    await page.keyboard.press("Enter");
    await has("made no call into the modules");
    await page.$eval("#record-command", (field) => (field as HTMLInputElement).select());
    await page.type("#record-command", "python3 run.py");
    await page.keyboard.press("Enter");
    await has("2 new cases");
    expect(cases("recorded.jsonl").trim().split("\n")).toHaveLength(2);
    await page.evaluate(() => (document.activeElement as HTMLElement).blur());
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("Delete");
    await has("1 new case");
    expect(cases("recorded.jsonl").trim().split("\n")).toHaveLength(1);
    await pressWords(page, "Take all out again");
    await has("All of them were taken out again");
    expect(cases("recorded.jsonl")).toBe("");
  });

  it("looks for inputs, with a time and a seed, and checks what it found", async () => {
    await page.select("[aria-label=Module]", "lock");
    await page.$eval("[aria-label=Seconds]", (field) => (field as HTMLInputElement).select());
    await page.type("[aria-label=Seconds]", "8");
    await page.locator("form[aria-label=Generate] button[type=submit]").click();
    await has("Inputs tried");
    expect(cases("generated.jsonl")).toContain('"from":"generated"');
    await page.evaluate(() => (document.activeElement as HTMLElement).blur());
    await page.keyboard.press("c");
    await page.keyboard.press("1");
    await page.waitForSelector("button[aria-pressed=true]");
  });
});

describe("a mend", () => {
  it("is tried for a family, taken with a key, checked, and undone to the byte", async () => {
    await page.goto(`${server.url}/port/${id}/bench?module=lock`);
    await page.waitForSelector("[aria-label=Verdict]");
    await page.keyboard.press("n");
    await has("This case differs");
    await page.keyboard.press("m");
    await has("A mend was tried and does it");
    expect(twinOnDisk()).toBe(TWIN);
    await page.keyboard.press("y");
    await has("Taken");
    expect(twinOnDisk()).toBe(TWIN.replace("41", "40"));
    await has("This case agrees");
    await page.locator("[aria-label=Mend] ::-p-text(Undo)").click();
    await has("This case differs");
    expect(twinOnDisk()).toBe(TWIN);
  });
});
