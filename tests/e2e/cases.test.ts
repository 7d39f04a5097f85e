/** From families of what differs to the smallest input, as a user goes about it. */
import { existsSync, readFileSync } from "node:fs";
import path from "node:path";
import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import {
  accessibilityFaults,
  bringIn,
  press,
  type RunningServer,
  startBrowser,
  startServer,
  watchComplaints,
} from "@/testing/browser";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

let server: RunningServer;
let browser: Awaited<ReturnType<typeof startBrowser>>;
let page: Page;
let id: string;
let complaints: string[] = [];
const browse = temporaryFolder({
  "p/side-twin.json": portFile({ name: "Widths" }),
  "p/original/m.py":
    "def width(words, sep=' '):\n    return len(sep.join(words))\ndef halve(n):\n    return round(n / 2)\n",
  "p/twin/m.ts":
    "export const width = (words: string[], sep = ' ') => words.join(sep).length;\nexport const halve = (n: number) => Math.round(n / 2);\n",
  "p/cases/m.jsonl": [
    { id: "bird", module: "m", call: "width", args: [["tern", "auk 🐦 here"], ", "] },
    { id: "plain", module: "m", call: "width", args: [["tern"]] },
    ...[1, 3, 4, 5, 8, 9].map((n) => ({ id: `half-${n}`, module: "m", call: "halve", args: [n] })),
  ],
});

beforeAll(async () => {
  server = await startServer({ command: "serve", browse });
  browser = await startBrowser();
  page = await browser.newPage();
  complaints = watchComplaints(page);
  id = await bringIn(server, path.join(browse, "p"));
});

afterAll(async () => {
  await browser?.stop();
  await server?.stop();
});

const text = (selector: string) => page.$eval(selector, (element) => (element as HTMLElement).innerText);
const idle = () => page.waitForFunction(() => document.querySelector("[data-check=idle]") !== null);

describe("the Cases view", () => {
  it("asks for a check first, and then shows families with their suspects", async () => {
    await page.goto(`${server.url}/port/${id}/cases`);
    await page.waitForFunction(() => /Not checked yet/.test(document.body.innerText));
    await idle();
    await page.keyboard.press("c");
    await page.waitForSelector("[data-suspect=rounding-mode]");
    expect(await text("aside")).toMatch(/Families 2[\s\S]*Halves rounded differently[\s\S]*m\.halve/);
    expect(await text("main")).toMatch(/half to even against half away/);
  });

  it("is walked by keyboard, shrinks a case, and keeps the smallest input", async () => {
    await page.keyboard.press("ArrowDown");
    await page.waitForSelector("[data-suspect=code-units]");
    await page.waitForFunction(() => /Input: bird/.test(document.querySelector("main")?.innerText ?? ""));
    await page.keyboard.press("s");
    await page.waitForSelector("[aria-label='Smallest input']");
    expect(await text("[aria-label='Smallest input']")).toContain('width(["🐦"])');
    await press(page, "[aria-label='Smallest input'] button");
    await page.waitForFunction(() => /Saved \S+ in cases\/minimised\.jsonl/.test(document.body.innerText));
    const kept = path.join(browse, "p/cases/minimised.jsonl");
    expect(existsSync(kept) && JSON.parse(readFileSync(kept, "utf8"))).toMatchObject({
      from: "minimised",
      args: [["🐦"]],
    });
  });

  it("agrees to a difference with a reason, which is written into the port file and checked at once", async () => {
    await page.keyboard.press("a");
    await page.waitForSelector("[aria-label='Why it may differ']");
    await page.keyboard.type("birds are counted otherwise here");
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => /1 case allowed, and saved/.test(document.body.innerText));
    const { allowances } = JSON.parse(readFileSync(path.join(browse, "p/side-twin.json"), "utf8"));
    expect(allowances).toMatchObject([
      { where: { case: "bird", at: "value" }, reason: "birds are counted otherwise here", twin: "ts" },
    ]);
    // The check may not have begun when its answer is here: only the verdict tells that it ended.
    const verdict = async () => (await fetch(`${server.url}/api/ports/${id}/case?case=bird`)).json();
    await vi.waitFor(async () => expect(await verdict()).toMatchObject({ mark: "allowed" }), 30_000);
  });

  it("lists all cases, filtered by a few words", async () => {
    await page.keyboard.press("2");
    await page.waitForFunction(() => document.querySelectorAll("[role=option]").length >= 9);
    await page.keyboard.press("f");
    await page.keyboard.type("halve differ");
    await page.waitForFunction(() => document.querySelectorAll("[role=option]").length === 3);
    await page.keyboard.press("Escape");
  });

  it("adds a case by a form of the section's parameters, and runs it", async () => {
    await page.keyboard.press("N");
    await page.waitForSelector("[aria-labelledby=add-case]");
    await page.select("[aria-labelledby=add-case] label:nth-of-type(2) select", "width");
    await page.type("[aria-label=words]", '["auk","tern"]');
    await page.type("[aria-label=sep]", "--");
    expect(await page.$eval("[aria-label='The case as a line']", (field) => (field as HTMLTextAreaElement).value)).toBe(
      '{"id":"m-width-1","module":"m","call":"width","args":[["auk","tern"],"--"],"kwargs":{}}',
    );
    expect(await accessibilityFaults(page)).toEqual([]);
    await page.evaluate(() => {
      const buttons = [...document.querySelectorAll<HTMLButtonElement>("[aria-labelledby=add-case] button")];
      buttons.find((button) => button.innerText === "Add and run it")?.click();
    });
    await page.waitForFunction(() => /Input: m-width-1/.test(document.querySelector("main")?.innerText ?? ""));
    await page.waitForFunction(() => /This case agrees/.test(document.querySelector("main")?.innerText ?? ""));
    const kept = readFileSync(path.join(browse, "p/cases/hand.jsonl"), "utf8");
    expect(JSON.parse(kept)).toMatchObject({ id: "m-width-1", args: [["auk", "tern"], "--"] });
  });

  it("brings cases in from JSON Lines, all or none, and gives out those that are listed", async () => {
    const good = temporaryFolder({ "more.jsonl": [{ id: "in-1", module: "m", call: "halve", args: [7] }] });
    const bad = temporaryFolder({
      "bad.jsonl": [
        { id: "in-2", module: "m", call: "halve" },
        { id: "in-3", module: "m", callz: 1 },
      ],
    });
    const field = () => page.$("input[type=file]") as Promise<import("puppeteer-core").ElementHandle<HTMLInputElement>>;
    await (await field()).uploadFile(path.join(bad, "bad.jsonl"));
    await page.waitForFunction(() => /imported cases, line 2/.test(document.body.innerText));
    expect(existsSync(path.join(browse, "p/cases/imported.jsonl"))).toBe(false);
    // The refusal is the browser's one complaint.
    expect(complaints.splice(0)).toEqual([expect.stringContaining("400")]);
    await (await field()).uploadFile(path.join(good, "more.jsonl"));
    await page.waitForFunction(() => /1 case from more\.jsonl imported/.test(document.body.innerText));
    const href = await page.$eval("a[download]", (link) => (link as HTMLAnchorElement).href);
    const listed = await (await fetch(href)).text();
    expect(
      listed
        .trim()
        .split("\n")
        .map((line) => JSON.parse(line).id),
    ).toEqual(["in-1"]);
    const odd = temporaryFolder({ "odd.jsonl": [{ id: "in-9", module: "m", call: "halv", args: [7] }] });
    await (await field()).uploadFile(path.join(odd, "odd.jsonl"));
    await page.waitForFunction(() => /original has no section m\.halv\./.test(document.body.innerText));
    const all = await (await fetch(href.replace(/words=[^&]*/, ""))).text();
    expect(all).toContain('"id":"in-1"');
  });

  it("shows what became of the allowances, and takes one out", async () => {
    await page.keyboard.press("3");
    await page.waitForSelector("[data-allowance]");
    expect(await text("main")).toMatch(/birds are counted otherwise here[\s\S]*1 difference in 1 of 1 case/);
    expect(await accessibilityFaults(page)).toEqual([]);
    await page.evaluate(() => {
      const buttons = [...document.querySelectorAll<HTMLButtonElement>("main button")];
      buttons.find((button) => button.innerText === "Remove")?.click();
    });
    await page.waitForFunction(() => /Nothing is allowed to differ/.test(document.body.innerText));
    expect(JSON.parse(readFileSync(path.join(browse, "p/side-twin.json"), "utf8")).allowances).toEqual([]);
    await page.keyboard.press("2");
    await press(page, "[aria-label^='Filter']", 3);
    await page.keyboard.type("halve differ");
    await page.keyboard.press("Escape");
    await page.waitForFunction(() => /Input: half-/.test(document.querySelector("main")?.innerText ?? ""));
  });

  it("goes to both sections on the Bench, and has no serious fault of accessibility", async () => {
    expect(await accessibilityFaults(page)).toEqual([]);
    await page.keyboard.press("g");
    await page.waitForSelector("[data-section=halve]");
    await page.waitForSelector("[data-suspect=rounding-mode]");
    expect(complaints).toEqual([]);
  });
});
