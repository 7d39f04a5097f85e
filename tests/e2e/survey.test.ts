/** What is there and what stands in the way, as a user looks at it. */
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
  watchComplaints,
} from "@/testing/browser";
import { portFile, temporaryFolder, writeFiles } from "@/testing/temporary-port";

let server: RunningServer;
let browser: Awaited<ReturnType<typeof startBrowser>>;
let page: Page;
let complaints: string[] = [];
const browse = temporaryFolder({
  "p/side-twin.json": portFile({ name: "Quays" }),
  "p/original/days.py":
    "import datetime as d\nimport json\ndef today(n):\n    return d.date(2031, 1, n)\ndef later(n):\n    return d.date(2031, 2, n)\n",
  "p/original/sheet.py":
    "from days import today\nimport json\ndef sheet(n):\n    return json.dumps([getattr(today(n), 'year')])\n",
  "p/original/tests/test_days.py": "import days\n",
  "p/original/settings.ini": "[log]\nformat = datetime\n",
  "p/cases/m.jsonl": [{ id: "a", module: "days", call: "today", args: [1] }],
});
const portText = () => readFileSync(path.join(browse, "p/side-twin.json"), "utf8");
const text = (selector: string) => shownText(page, selector);

beforeAll(async () => {
  server = await startServer({ command: "serve", browse });
  browser = await startBrowser();
  page = await browser.newPage();
  complaints = watchComplaints(page);
  await page.goto(`${server.url}/port/${await bringIn(server, path.join(browse, "p"))}/survey`);
  await page.waitForSelector("[data-column]");
});

afterAll(async () => {
  await browser?.stop();
  await server?.stop();
});

describe("the Survey view", () => {
  it("shows modules and what they use, snags first, with the places behind each count", async () => {
    const columns = await page.$$eval("[data-column]", (list) =>
      list.map((item) => (item as HTMLElement).dataset.column),
    );
    expect(columns).toEqual(["datetime", "Attributes by name", "json"]);
    await page.waitForFunction(() =>
      /return d\.date\(2031, 2, n\)/.test(document.querySelector("aside")?.innerText ?? ""),
    );
    expect(await text("aside")).toMatch(
      /2 uses in 1 module, 2 in modules not ported[\s\S]*Clock and time zones[\s\S]*format = datetime/,
    );
    expect(await text("main")).toMatch(/2 modules in Python[\s\S]*Tests that come with it/);
    expect(await accessibilityFaults(page)).toEqual([]);
  });

  it("is a table of modules, walked by the arrows down to the places of one module", async () => {
    const cells = await page.$$eval("table tbody tr", (rows) =>
      rows.map((row) => [row.querySelector("th[scope=row]")?.textContent, row.querySelectorAll("td button").length]),
    );
    expect(cells).toEqual([
      ["days", 2],
      ["sheet", 2],
    ]);
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("ArrowDown");
    await page.waitForFunction(() => document.querySelector("aside")?.innerText.includes("Only in sheet."));
    expect(await text("aside section")).not.toContain("days.py");
    expect(page.url()).toMatch(/[?&]name=datetime&module=sheet/);
    await press(page, "tr[data-module=sheet] [aria-label='sheet uses json 1 time']");
    await page.waitForFunction(() => document.querySelector("aside h1")?.textContent === "json");
    await page.waitForFunction(() => document.querySelector("aside section")?.textContent?.includes("sheet.py:4"));
    await page.keyboard.press("ArrowUp");
    await page.keyboard.press("ArrowUp");
    await page.waitForFunction(() => !document.querySelector("aside")?.innerText.includes("Only in"));
    await press(page, "[data-column=datetime]");
  });

  it("filters by module or library, says when nothing matches, and sorts", async () => {
    const modules = () => page.$$eval("tbody tr", (rows) => rows.map((row) => (row as HTMLElement).dataset.module));
    await page.keyboard.press("f");
    await page.keyboard.type("json");
    await page.waitForFunction(() => document.querySelectorAll("[data-column]").length === 1);
    expect(await modules()).toEqual(["days", "sheet"]);
    await page.keyboard.type("zz");
    await page.waitForFunction(() => document.querySelector("main")?.innerText.includes("matches the filter"));
    await press(page, "main > p button");
    await page.waitForSelector("[data-column=datetime]");
    await page.select("[aria-label='Order of the modules']", "uses");
    await press(page, "[data-column='Attributes by name']");
    await page.waitForFunction(() => document.querySelector("tbody tr")?.getAttribute("data-module") === "sheet");
    await page.select("[aria-label='Order of the modules']", "layer");
    await press(page, "[data-column=datetime]");
    await page.evaluate(() => (document.activeElement as HTMLElement).blur());
  });

  it("takes a way round by a key and a note, and writes both into the port file", async () => {
    await page.keyboard.press("1");
    await page.waitForFunction(() => document.querySelector("fieldset [aria-pressed=true]")?.textContent === "wrap");
    await page.keyboard.press("w");
    await page.keyboard.type("one small day");
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => (document.querySelector("aside form button") as HTMLButtonElement)?.disabled);
    expect(JSON.parse(portText()).snags).toEqual([{ name: "datetime", way: "wrap", note: "one small day" }]);
    await page.evaluate(() => (document.activeElement as HTMLElement).blur());
  });

  it("is walked by keyboard, and takes a snag of one's own", async () => {
    await page.keyboard.press("ArrowRight");
    await page.waitForFunction(() => document.querySelector("aside h1")?.textContent === "Attributes by name");
    await page.keyboard.press("N");
    await page.waitForSelector("[aria-label='Name']");
    await page.keyboard.type("our writer");
    await page.type("[aria-label='Pattern']", "json.*");
    await page.keyboard.press("Enter");
    await page.waitForSelector("[data-column='our writer']");
    expect(JSON.parse(portText()).snags[1]).toEqual({ name: "our writer", match: "json.*" });
  });

  it("has in the Order what a wanted module pulls along", async () => {
    const here = page.url();
    await page.goto(here.replace(/\/survey.*/, "/order"));
    await press(page, "[data-module=sheet]");
    await page.keyboard.press("i");
    await page.waitForSelector("[aria-label='Wanted soon']");
    expect(await text("[aria-label='Wanted soon']")).toMatch(
      /sheet: 2 modules to do, \d+ lines to prove; first days\./,
    );
    expect(await text("[data-module=days]")).toContain("pulled along");
    expect(JSON.parse(portText()).pins).toEqual(["sheet"]);
    await page.keyboard.press("i");
    await page.waitForFunction(() => !document.querySelector("[aria-label='Wanted soon']"));
    expect(JSON.parse(portText()).pins).toEqual([]);
    await page.goto(here);
    await page.waitForSelector("[data-column]");
    await page.waitForFunction(() => document.querySelector("[data-check=idle]") !== null);
  });

  it("follows what is saved in the folder", async () => {
    writeFiles(path.join(browse, "p/original"), { "extra.py": "import socket\nsocket.socket()\n" });
    await page.waitForSelector("[data-column=socket]");
    expect(complaints).toEqual([]);
  });
});
