/** The whole main job, as a user does it: from the demo to a mended twin. */
import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { accessibilityFaults, press, type RunningServer, startBrowser, startServer } from "@/testing/browser";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

let server: RunningServer;
let browser: Awaited<ReturnType<typeof startBrowser>>;
let page: Page;
let browse: string;
const complaints: string[] = [];

beforeAll(async () => {
  browse = temporaryFolder({
    "plain/readme.txt": "nothing here",
    "mine/side-twin.json": portFile({ name: "My own port" }),
    "mine/original/m.py": "def f(n):\n    return n\n",
    "mine/twin/m.ts": "export const f = (n: number) => n;\n",
    "mine/cases/m.jsonl": [{ id: "f1", module: "m", call: "f", args: [1] }],
    "broken/side-twin.json": '{"format": "side-twin/port", "version": 1, "nam": 1}',
  });
  server = await startServer({ browse });
  browser = await startBrowser();
  page = await browser.newPage();
  page.on(
    "console",
    (message) => message.type() === "error" && complaints.push(`${message.text()} ${message.location().url}`),
  );
  page.on("pageerror", (error) => complaints.push(String(error)));
});

afterAll(async () => {
  await browser?.stop();
  await server?.stop();
});

const status = () => page.$eval("[data-check]", (element) => element.textContent ?? "");
const idle = () => page.waitForFunction(() => document.querySelector("[data-check=idle]") !== null);
const textOf = (selector: string) => page.$eval(selector, (element) => (element as HTMLElement).innerText);
const tape = () =>
  page.$$eval("[data-case]", (marks) =>
    marks.map((mark) => [mark.getAttribute("data-case"), mark.getAttribute("data-mark")] as const),
  );

describe("first light", () => {
  it("starts with the demo port on the first page", async () => {
    await page.goto(server.url);
    await page.waitForSelector("main li svg");
    expect(await textOf("main")).toMatch(/Saltmarsh Ferries/);
    expect(await textOf("main")).toMatch(/566 cases wait for the first check/);
    expect(await accessibilityFaults(page)).toEqual([]);
  });

  it("checks a port from the first page, and stops", async () => {
    await idle();
    await page.keyboard.press("c");
    await page.waitForFunction(() => /Stop/.test(document.querySelector("[data-check]")?.textContent ?? ""));
    await page.keyboard.press("x");
    await idle();
    await page.waitForFunction(() => /was stopped/.test(document.querySelector("main")?.textContent ?? ""));
  });

  it("opens the Order by keyboard, and checks everything live", async () => {
    await page.keyboard.press("Enter");
    await page.waitForSelector("[data-module=fares]");
    expect(await textOf("[data-module=crew_rest]")).toMatch(/ready/);
    await idle();
    await page.keyboard.press("c");
    await page.waitForFunction(() =>
      /[1-9]\d* of 566 cases/.test(document.querySelector("[data-check]")?.textContent ?? ""),
    );
    // Marks change while it runs, before the end.
    await page.waitForFunction(() =>
      /differ/.test(document.querySelector<HTMLElement>("[data-module=fares]")?.innerText ?? ""),
    );
    await idle();
    await page.waitForFunction(() =>
      /5 of 61 differ/.test(document.querySelector<HTMLElement>("[data-module=fares]")?.innerText ?? ""),
    );
    await page.waitForFunction(() =>
      /proven/.test(document.querySelector<HTMLElement>("[data-module=money]")?.innerText ?? ""),
    );
    expect(await textOf("header")).toMatch(/78 % proven/);
    expect(await accessibilityFaults(page)).toEqual([]);
  });

  it("walks the map by keyboard and opens a module that differs", async () => {
    await press(page, "[data-module=clock]");
    await page.keyboard.press("ArrowRight");
    expect(await page.$eval("[aria-pressed=true]", (tile) => tile.getAttribute("data-module"))).toBe("crew_rest");
    await press(page, "[data-module=fares]");
    await page.evaluate(() => (document.activeElement as HTMLElement).blur());
    await page.keyboard.press("Enter");
    await page.waitForSelector("section[data-section=rebate]");
    expect(page.url()).toContain("module=fares");
  });

  it("shows facing pages, the tape, and the first divergence", async () => {
    await page.waitForSelector("tr[data-differs]");
    expect(await textOf("section[data-section=rebate]")).toMatch(
      /def rebate[\s\S]*9 of 13 agree[\s\S]*export function rebate/,
    );
    expect(await textOf("[aria-label=Reader]")).toMatch(/fare_for\(9, "dog"\)[\s\S]*172\s+173[\s\S]*This case differs/);
    const marks = await tape();
    expect(marks.filter(([, mark]) => mark === "differ")).toHaveLength(5);
    expect(marks.filter(([, mark]) => mark === "skipped")).toHaveLength(5);
    expect(await accessibilityFaults(page)).toEqual([]);
  });

  it("is worked by keys: cases, folding, open rows only, help", async () => {
    await page.keyboard.press("n");
    await page.waitForFunction(() =>
      /fares-rebate-2/.test(document.querySelector<HTMLElement>("[aria-label=Reader]")?.innerText ?? ""),
    );
    await page.keyboard.press("p");
    await page.waitForFunction(() =>
      /fares-fare-for-16/.test(document.querySelector<HTMLElement>("[aria-label=Reader]")?.innerText ?? ""),
    );
    const folded = () =>
      page.$eval("section[data-section=fare_for] button", (button) => button.getAttribute("aria-expanded"));
    expect(await folded()).toBe("true");
    await page.keyboard.press("Enter");
    await page.waitForFunction(
      () => document.querySelector("section[data-section=fare_for] button")?.getAttribute("aria-expanded") === "false",
    );
    await page.keyboard.press("Enter");
    await page.keyboard.press("o");
    await page.waitForFunction(() => !document.querySelector("section[data-section=BICYCLE]"));
    await page.keyboard.press("o");
    await page.keyboard.press("?");
    await page.waitForSelector("[role=dialog]");
    expect(await textOf("[role=dialog]")).toMatch(/next case that differs/);
    await page.keyboard.press("Escape");
    await page.waitForFunction(() => !document.querySelector("[role=dialog]"));
  });

  it("sees the twin agree after its file was mended on disk and checked again", async () => {
    const file = path.join(server.data, "demo/saltmarsh-ferries/twin/src/fares.ts");
    const text = readFileSync(file, "utf8");
    const mended = `${text.replaceAll("Math.round(", "halfToEven(")}
function halfToEven(value: number): number {
  const floor = Math.floor(value);
  if (value - floor !== 0.5) return Math.round(value);
  return floor % 2 === 0 ? floor : floor + 1;
}
`;
    writeFileSync(file, mended);
    // The folders are watched: the screen notices by itself that what it shows is older than the code.
    await page.waitForFunction(() => document.body.innerText.includes("changed since the check"));
    await page.keyboard.press("c");
    await page.waitForFunction(() => document.querySelectorAll("[data-mark=differ]").length === 0);
    await idle();
    await page.waitForFunction(() => !document.body.innerText.includes("changed since the check"));
    expect((await tape()).filter(([, mark]) => mark === "agree")).toHaveLength(56);
    await page.waitForFunction(() =>
      /This case agrees/.test(document.querySelector<HTMLElement>("[aria-label=Reader]")?.innerText ?? ""),
    );
  });

  it("can be stopped, and keeps what was said before", async () => {
    await page.keyboard.press("O");
    await page.waitForSelector("[data-module=fares]");
    await idle();
    await page.keyboard.press("c");
    await page.waitForFunction(() => /Stop/.test(document.querySelector("[data-check]")?.textContent ?? ""));
    await page.keyboard.press("x");
    await idle();
    expect(await status()).toMatch(/stopped after/);
    expect(await textOf("[data-module=money]")).toMatch(/proven|agrees/);
  });

  it("jumps to a module by a few letters", async () => {
    await page.keyboard.press("/");
    await page.keyboard.type("tid");
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => document.querySelector("h1")?.textContent === "tides");
    await page.waitForSelector("section[data-section=height]");
  });

  it("finds text in both sources, and opens its line on the Bench", async () => {
    await page.keyboard.press("/");
    await page.keyboard.type("LongRest");
    await page.waitForFunction(() => /no line has it/.test(document.querySelector("header")?.textContent ?? ""));
    await page.keyboard.press("Escape");
    await page.keyboard.press("/");
    await press(page, "header input", 3);
    await page.keyboard.type("needs a rider");
    await page.waitForFunction(() => document.querySelectorAll("header [role=option]").length === 2);
    expect(await textOf("header [role=listbox]")).toMatch(
      /original ferry\/fares\.py:43\s[\s\S]*twin src\/fares\.ts:36\s/,
    );
    await page.keyboard.press("ArrowDown");
    await page.keyboard.press("Enter");
    await page.waitForSelector("[data-section=rebate] [data-found]");
    expect(await textOf("[data-found]")).toContain('throw new FareError("a rebate needs a rider")');
    expect(page.url()).toContain("at=twin%3Asrc%2Ffares.ts%3A36");
  });

  it("switches between light and dark, and remembers it", async () => {
    const paper = () => page.evaluate(() => getComputedStyle(document.body).backgroundColor);
    const light = await paper();
    await page.keyboard.press("d");
    const dark = await paper();
    expect(dark).not.toBe(light);
    await page.reload();
    await page.waitForSelector("section[data-section=rebate]");
    expect(await paper()).toBe(dark);
    expect(await accessibilityFaults(page)).toEqual([]);
    await page.keyboard.press("d");
  });

  it("brings in a port by walking folders, and tells what is wrong with a broken one", async () => {
    await page.goto(server.url);
    await page.waitForSelector("main li svg");
    await page.keyboard.press("N");
    const choose = async (name: string) => {
      await page.waitForFunction(
        (wanted) =>
          [...document.querySelectorAll("[aria-label=Folders] button")].some((button) =>
            button.textContent?.startsWith(wanted),
          ),
        {},
        name,
      );
      await page.evaluate(
        (wanted) =>
          [...document.querySelectorAll<HTMLElement>("[aria-label=Folders] button")]
            .find((button) => button.textContent?.startsWith(wanted))
            ?.click(),
        name,
      );
    };
    const bring = "::-p-text(Add the port that is here)";
    await choose("broken");
    await page.waitForFunction(() =>
      /\/broken$/.test(document.querySelector<HTMLInputElement>("[aria-label='Path of the folder']")?.value ?? ""),
    );
    await press(page, bring);
    await page.waitForFunction(() =>
      /Unknown key "nam"/.test(document.querySelector<HTMLElement>("main")?.innerText ?? ""),
    );
    await choose("↑ one folder up");
    await choose("mine");
    await page.waitForFunction(() =>
      /\/mine$/.test(document.querySelector<HTMLInputElement>("[aria-label='Path of the folder']")?.value ?? ""),
    );
    await press(page, bring);
    await page.waitForSelector("[data-module=m]");
    expect(await textOf("header")).toMatch(/My own port/);
  });

  it("had no complaint from the browser, refused scripts and styles included", () => {
    // A refused port file is answered with status 400, which the browser notes.
    expect(complaints.filter((text) => !/status of 400/.test(text))).toEqual([]);
  });
});

describe("the web server", () => {
  it("answers to its own address only, and not to other sites", async () => {
    const { request } = await import("node:http");
    const ask = (headers: Record<string, string>, method = "GET") =>
      new Promise<number>((resolve, reject) => {
        request(`${server.url}/api/ports`, { method, headers }, (response) =>
          resolve(response.resume().statusCode ?? 0),
        )
          .on("error", reject)
          .end();
      });
    expect(await ask({})).toBe(200);
    expect(await ask({ host: "evil.example" })).toBe(403);
    expect(await ask({ origin: "http://evil.example" }, "POST")).toBe(403);
  });

  it("refuses folders outside the one that may be browsed", async () => {
    const response = await fetch(`${server.url}/api/folders?folder=${encodeURIComponent(path.join(browse, "../.."))}`);
    expect(response.status).toBe(403);
    expect(await response.json()).toMatchObject({ error: { code: "outside-folder" } });
  });

  it("sends a strict policy", async () => {
    const policy = (await fetch(server.url)).headers.get("content-security-policy") ?? "";
    expect(policy).toContain("default-src 'none'");
    expect(policy).not.toMatch(/script-src[^;]*unsafe/);
  });
});

describe("a second server", () => {
  it("on the same data folder says so and stops", async () => {
    await expect(startServer({ command: "serve", data: server.data })).rejects.toThrow(
      /Another Side Twin \(process \d+\) is using the data folder/,
    );
  });
});
