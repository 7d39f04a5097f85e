/** What the Bench and its reader show of every kind of case: steps, runs, errors, broken and missing ones, odd text. */
import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type RunningServer, startBrowser, startServer } from "@/testing/browser";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

let server: RunningServer;
let browser: Awaited<ReturnType<typeof startBrowser>>;
let page: Page;
let id: string;

const MARKUP = '<img src=x onerror="document.title=\'owned\'"><script>document.title="owned"</script>';

beforeAll(async () => {
  const browse = temporaryFolder({
    "port/side-twin.json": portFile({
      name: "Odd & <b>bold</b>",
      limits: { timeMs: 1500 },
      original: { root: "original", language: "python", run: ["python3", "m.py"] },
      twins: [{ name: "ts", root: "twin", language: "typescript", run: ["node", "run.mjs"] }],
      allowances: [{ id: "close", where: { at: "value" }, allow: { number: { abs: 0.1 } }, reason: "near enough" }],
    }),
    "port/original/m.py": `import sys\nclass Box:\n    def __init__(self, n): self.n = n\n    def take(self): self.n -= 1; return self.n\ndef markup(): return ${JSON.stringify(MARKUP)}\ndef hang(): return 1\ndef near(): return 1.0\ndef lost(): return 1\nif __name__ == "__main__": print("one\\ntwo\\nthree")\n`,
    "port/twin/m.ts": `export class Box { constructor(public n: number) {} take() { this.n -= 2; return this.n; } }\nexport const markup = () => "plain";\nexport function hang() { for (;;); }\nexport const near = () => 1.05;\n`,
    "port/twin/run.mjs": 'console.log("one\\nTWO\\nthree");\n',
    "port/cases/m.jsonl": [
      {
        id: "steps",
        module: "m",
        steps: [
          { new: "Box", args: [3], as: "b" },
          { call: "take", on: "b" },
        ],
      },
      { id: "markup", module: "m", call: "markup" },
      { id: "hang", module: "m", call: "hang" },
      { id: "near", module: "m", call: "near" },
      { id: "lost", module: "m", call: "lost" },
      { id: "run", module: "m", run: { argv: [], files: { "in.txt": "x\n" } } },
    ],
  });
  server = await startServer({ command: "serve", browse });
  browser = await startBrowser();
  page = await browser.newPage();
  await page.goto(server.url);
  id = await page.evaluate(async (folder) => {
    const response = await fetch("/api/ports", { method: "POST", body: JSON.stringify({ folder }) });
    return (await response.json()).id;
  }, `${browse}/port`);
  await page.goto(`${server.url}/port/${id}/bench?module=m`);
  await page.waitForSelector("section[data-section=markup]");
  await page.waitForFunction(() => document.querySelector("[data-check=idle]") !== null);
});

afterAll(async () => {
  await browser?.stop();
  await server?.stop();
});

const reader = async (caseId: string): Promise<string> => {
  await page.goto(`${server.url}/port/${id}/bench?module=m&case=${caseId}`);
  await page.waitForFunction(
    (wanted) => document.querySelector<HTMLElement>("[aria-label=Reader]")?.innerText.includes(`Input: ${wanted}`),
    {},
    caseId,
  );
  return page.$eval("[aria-label=Reader]", (element) => (element as HTMLElement).innerText);
};

describe("the reader", () => {
  it("has nothing to show before the first check, and says so", async () => {
    expect(await reader("near")).toMatch(/Not run yet[\s\S]*Not run yet/);
    expect(await page.$eval("main", (element) => (element as HTMLElement).innerText)).toMatch(/not ported yet/);
    expect(await page.$eval("main", (element) => (element as HTMLElement).innerText)).toMatch(/\d cases? not run yet/);
  });

  it("shows every kind of case once checked", async () => {
    await page.keyboard.press("c");
    await page.waitForFunction(() => document.querySelectorAll("[data-mark=idle]").length === 0);
    await page.waitForFunction(() => document.querySelector("[data-check=idle]") !== null, {
      timeout: 60_000,
    });
    const marks = await page.$$eval("[data-case]", (list) =>
      Object.fromEntries(list.map((mark) => [mark.getAttribute("data-case"), mark.getAttribute("data-mark")])),
    );
    expect(marks).toEqual({
      steps: "differ",
      markup: "differ",
      hang: "broken",
      near: "allowed",
      lost: "skipped",
      run: "differ",
    });
    expect(await reader("steps")).toMatch(/b = new Box\(3\)[\s\S]*b\.take\(\)[\s\S]*step 2\s+2\s+1/);
    expect(await reader("hang")).toMatch(/Could not be run[\s\S]*On the twin: Timed out: it took longer than 1500 ms/);
    expect(await reader("near")).toMatch(/This case is allowed to differ[\s\S]*Allowed by close: near enough/);
    expect(await reader("lost")).toMatch(/Not ported yet[\s\S]*there is no lost/);
    expect(await reader("run")).toMatch(/file in\.txt:[\s\S]*2\s+two\s+TWO[\s\S]*first at stdout\.2/);
  });

  it("never shows what ported code printed as markup", async () => {
    expect(await reader("markup")).toContain("onerror");
    expect(await page.title()).toBe("m – Bench – Odd & <b>bold</b> – Side Twin");
    expect(await page.$$eval("[aria-label=Reader] img", (images) => images.length)).toBe(0);
    expect(await page.$eval("header", (element) => (element as HTMLElement).innerText)).toContain("<b>bold</b>");
  });
});
