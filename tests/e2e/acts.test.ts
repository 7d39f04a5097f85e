/** Acts of a person that show that they worked and can be taken back, and a save that is checked by itself. */
import { chmodSync, existsSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
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
import { portFile, temporaryFolder } from "@/testing/temporary-port";

let server: RunningServer;
let browser: Awaited<ReturnType<typeof startBrowser>>;
let page: Page;
let id: string;
let folder: string;
let complaints: string[];

const TWIN = `export const steps = (level) => Math.trunc(level / 4);
export const label = (text) => text.trim();
export function report(level, text) {
  return \`\${label(text)}: \${steps(level)}\`;
}
`;
const call = (name: string, id: string, ...args: unknown[]) => ({ id, module: "sluice", call: name, args });

beforeAll(async () => {
  folder = temporaryFolder({
    "side-twin.json": portFile({
      name: "Sluice",
      original: { root: "original", language: "python", run: ["python3", "main.py"] },
      twins: [{ name: "js", root: "twin", language: "javascript", run: ["node", "main.js"] }],
    }),
    "original/sluice.py":
      "def steps(level):\n    return level // 4\n\n\ndef label(text):\n    return text.strip()\n\n\n" +
      'def report(level, text):\n    return f"{label(text)}: {steps(level)}"\n',
    "original/main.py": "import sys\nimport sluice\n\nprint(sluice.report(int(sys.argv[1]), sys.argv[2]))\n",
    "original/later.py": "def later(n):\n    return n + 1\n",
    "original/gate.py": "def ready(n):\n    return n + 1\n",
    "twin/gate.js": "export const ready = (n, done) => done(null, n + 1);\n",
    "twin/sluice.js": TWIN,
    "twin/main.js":
      "import { report } from './sluice.js';\nconsole.log(report(Number(process.argv[2]), process.argv[3]));\n",
    "twin/package.json": { type: "module" },
    "cases/c.jsonl": [
      call("steps", "s-1", -1),
      call("steps", "s-2", -2),
      call("steps", "s-3", 8),
      call("label", "l-1", " a "),
      { id: "run-1", module: "main", run: { argv: ["-7", "A"] } },
      { id: "gate-1", module: "gate", call: "ready", args: [1] },
      { id: "later-1", module: "later", call: "later", args: [1] },
    ],
  });
  server = await startServer({ command: "serve", browse: path.dirname(folder) });
  browser = await startBrowser();
  page = await browser.newPage();
  complaints = watchComplaints(page);
  id = await bringIn(server, folder);
  await page.goto(`${server.url}/port/${id}/order`);
  await page.waitForSelector("[data-module=sluice]");
  await page.keyboard.press("c");
  await waitForText(page, "[data-check]", "checked: no change");
});

afterAll(async () => {
  await browser?.stop();
  await server?.stop();
});

const bench = (query: string) => page.goto(`${server.url}/port/${id}/bench?${query}`);
const notice = (words: string) => waitForText(page, ".MuiSnackbar-root", words);
const undo = () => press(page, ".MuiSnackbar-root ::-p-text(Undo)");
const idle = () => page.waitForSelector("[data-check=idle]");
const portOnDisk = () => JSON.parse(readFileSync(path.join(folder, "side-twin.json"), "utf8"));
const casesOnDisk = () => readFileSync(path.join(folder, "cases/c.jsonl"), "utf8");

describe("the Bench", () => {
  it("shows where a program run parts inside, and leads there by a key", async () => {
    await bench("module=main&case=run-1");
    await waitForText(page, "[aria-label='Where the two sides part']", "The two sides part in sluice.steps");
    expect(await shownText(page, "[aria-label='Path of calls']")).toMatch(/sluice\.report\s+sluice\.steps/);
    await page.keyboard.press("z");
    await page.waitForSelector("[data-section=steps]");
    expect(page.url()).toContain("module=sluice");
  });

  it("keeps section and case in the address, and the title says where one is", async () => {
    await bench("module=sluice&section=steps");
    await page.waitForSelector("[data-case='s-1'][aria-selected=true]");
    await page.keyboard.press("ArrowRight");
    await page.waitForSelector("[data-case='s-2'][aria-selected=true]");
    await page.waitForFunction(() => location.search.includes("case=s-2"));
    expect(await page.title()).toBe("sluice – Bench – Sluice – Side Twin");
    await page.reload();
    await page.waitForSelector("[data-case='s-2'][aria-selected=true]");
  });

  it("adds a case of the section one is at, by a key", async () => {
    await bench("module=sluice&section=label");
    await page.waitForSelector("[data-case='l-1'][aria-selected=true]");
    await page.keyboard.press("N");
    await page.waitForSelector("[aria-labelledby=add-case]");
    const chosen = () => page.$$eval("[aria-labelledby=add-case] select", (all) => all.map((one) => one.value));
    expect(await chosen()).toEqual(["sluice", "label"]);
    await page.keyboard.press("Escape");
    await bench("module=sluice&section=steps");
    await page.waitForSelector("[data-case='s-1'][aria-selected=true]");
    await page.keyboard.press("ArrowRight");
    await page.waitForSelector("[data-case='s-2'][aria-selected=true]");
  });

  it("marks what the case ran on both pages", async () => {
    await page.keyboard.press("h");
    await page.waitForSelector("[title='run by this case']");
    await page.keyboard.press("h");
    await page.waitForFunction(() => document.querySelector("[title='run by this case']") === null);
  });

  it("allows a whole family in one allowance, and takes it back", async () => {
    await page.keyboard.press("a");
    await page.waitForSelector("[aria-label='Why it may differ']");
    await page.keyboard.type("levels below zero do not occur");
    // A run of the program shows the same fault.
    await press(page, "::-p-text(all 3 cases that differ this way)");
    await press(page, "[type=submit]::-p-text(Allow)").catch(() => press(page, "form button[type=submit]"));
    await notice("3 cases allowed");
    expect(portOnDisk().allowances).toHaveLength(2);
    expect(portOnDisk().allowances).toContainEqual(
      expect.objectContaining({ where: expect.objectContaining({ module: "sluice", call: "steps" }) }),
    );
    await page.waitForSelector("[data-case='s-1'][data-mark=allowed]");
    await undo();
    await notice("Undone.");
    await page.waitForSelector("[data-case='s-1'][data-mark=differ]");
    expect(portOnDisk().allowances).toEqual([]);
  });

  it("deletes a case and puts it back, and saves a copy of one", async () => {
    const before = casesOnDisk();
    await idle();
    await press(page, "::-p-text(Case …)");
    await press(page, "[role=menuitem]::-p-text(Delete)");
    await notice("Deleted s-2 from cases/c.jsonl.");
    expect(casesOnDisk()).not.toContain("s-2");
    await undo();
    await notice("Undone.");
    expect(casesOnDisk()).toBe(before);
    await page.waitForSelector("[data-case='s-2']");
    await press(page, "[data-case='s-3']");
    await waitForText(page, "[aria-label=Reader]", "Input: s-3");
    await press(page, "::-p-text(Case …)");
    await press(page, "[role=menuitem]::-p-text(Copy as a new case)");
    await waitForText(page, "[role=dialog]", "A copy of the case");
    expect(await accessibilityFaults(page)).toEqual([]);
    await press(page, "[role=dialog] ::-p-text(Save and run it)");
    await notice("Saved s-3-copy");
    await page.waitForSelector("[data-case='s-3-copy'][data-mark=agree]");
  });

  it("checks by itself what a save touches, says what it mended, and keeps the case in the reader", async () => {
    await press(page, "[data-case='s-1']");
    await waitForText(page, "[aria-label=Reader]", "This case differs");
    writeFileSync(path.join(folder, "twin/sluice.js"), TWIN.replace("Math.trunc", "Math.floor"));
    await waitForText(page, "[data-check]", "sluice: 2 mended, 0 newly differ");
    await waitForText(page, "[aria-label=Reader]", "This case agrees");
    expect(await shownText(page, "[aria-label=Reader]")).toContain("Input: s-1");
  });

  it("lists the callers of a section whose signature was changed in its row, until they are seen to", async () => {
    await press(page, "[data-section=label]");
    await page.keyboard.press("w");
    await page.waitForSelector(".cm-content");
    await page.keyboard.down("Control");
    await page.keyboard.press("a");
    await page.keyboard.up("Control");
    await page.keyboard.type("export const label = (text, width) => text.trim().padEnd(width ?? 0);");
    await page.keyboard.down("Control");
    await page.keyboard.press("s");
    await page.keyboard.up("Control");
    await waitForText(page, "[aria-label='Callers to see to']", "label has another signature");
    expect(await shownText(page, "[aria-label='Callers to see to']")).toMatch(/sluice\.js:4[\s\S]*sluice\.py:10/);
    await press(page, "::-p-text(All are seen to)");
    await page.waitForFunction(() => document.querySelector("[aria-label='Callers to see to']") === null);
  });

  it("names the file that a twin is looked for in, drafts it, and takes the draft back", async () => {
    await bench("module=later");
    await waitForText(page, "[aria-label=Next]", "later.js:1");
    await press(page, "[aria-label=Next] ::-p-text(Draft it)");
    await page.waitForSelector("[data-section=later] [title='2'], [data-section=later]");
    await vi.waitFor(() => expect(existsSync(path.join(folder, "twin/later.js"))).toBe(true), { timeout: 60_000 });
    await page.waitForSelector("[data-case='later-1'][data-mark=agree]");
    await undo();
    await notice("Undone.");
    expect(existsSync(path.join(folder, "twin/later.js"))).toBe(false);
  });

  it("hands a callback to a twin that takes one, and no longer", async () => {
    await bench("module=gate");
    await waitForText(page, "[data-section=ready]", "the twin takes done");
    await press(page, "[data-section=ready] ::-p-text(hand it over)");
    await waitForText(page, "[data-section=ready]", "done is handed over");
    await waitForText(page, "[data-section=ready]", "1 case");
    expect(portOnDisk().hookups).toEqual([{ original: "gate.ready", callback: "last" }]);
    await undo();
    await waitForText(page, "[data-section=ready]", "the twin takes done");
    expect(portOnDisk().hookups).toEqual([]);
    await idle();
  });

  it("opens a place in the editor that is set once", async () => {
    const given = path.join(folder, "given");
    const program = path.join(folder, "my-editor");
    writeFileSync(program, `#!/bin/sh\nprintf '%s' "$*" > "${given}"\n`);
    chmodSync(program, 0o755);
    await bench("module=sluice&section=steps");
    await page.waitForSelector("[data-case='s-1']");
    await press(page, "::-p-text(open original)");
    await page.waitForSelector("[aria-label='Command of your editor']");
    expect(await accessibilityFaults(page)).toEqual([]);
    await page.$eval("[aria-label='Command of your editor']", (field) => (field as HTMLInputElement).select());
    await page.type("[aria-label='Command of your editor']", `${program} {file}:{line}`);
    await page.keyboard.press("Enter");
    await vi.waitFor(
      () => expect(existsSync(given) && readFileSync(given, "utf8")).toMatch(/original\/sluice\.py:1$/),
      10_000,
    );
    // The first question was answered by the server with what to do.
    complaints = complaints.filter((text) => !/\/open$/.test(text));
  });
});

describe("the other views", () => {
  it("change a setting of the port file in its place, and take it back", async () => {
    const before = readFileSync(path.join(folder, "side-twin.json"), "utf8");
    await page.goto(`${server.url}/port/${id}/settings`);
    const field = await page.waitForSelector("[id=name]");
    await field?.click({ count: 3 });
    await page.keyboard.type('"Two sluices"');
    await press(page, "section:first-of-type form:first-of-type [type=submit]");
    await notice("Saved name in side-twin.json.");
    expect(portOnDisk().name).toBe("Two sluices");
    expect(await accessibilityFaults(page)).toEqual([]);
    await undo();
    await notice("Undone.");
    expect(readFileSync(path.join(folder, "side-twin.json"), "utf8")).toBe(before);
  });

  it("let texts be larger, kept for the next page", async () => {
    const tall = () => page.$eval("h1", (title) => title.getBoundingClientRect().height);
    const before = await tall();
    await page.select("select", "1.5");
    expect(await tall()).toBeGreaterThan(before * 1.3);
    await bench("module=sluice&section=steps");
    await page.waitForSelector("[data-case='s-1']");
    expect(await page.evaluate(() => document.documentElement.style.getPropertyValue("--zoom"))).toBe("1.5");
    // The view is as tall as the window, no taller.
    expect(await page.evaluate(() => document.documentElement.scrollHeight <= window.innerHeight + 1)).toBe(true);
    await page.goto(`${server.url}/port/${id}/settings`);
    await page.waitForSelector("select");
    await page.select("select", "1");
  });

  it("write into the journal from anywhere, with the place filled in", async () => {
    await bench("module=sluice&section=steps");
    await page.waitForSelector("[data-case='s-1']");
    await page.keyboard.press("j");
    await waitForText(page, "[role=dialog]", "About sluice, steps, s-1");
    await page.keyboard.type("Levels are whole numbers.");
    await press(page, "[role=dialog] [type=submit]");
    await notice("Written into the journal.");
    const last = readFileSync(path.join(folder, "journal.jsonl"), "utf8").trim().split("\n").at(-1) ?? "";
    expect(JSON.parse(last)).toMatchObject({ module: "sluice", section: "steps", case: "s-1", kind: "note" });
  });

  it("let single letters be switched off", async () => {
    await page.keyboard.press("?");
    await press(page, "[role=dialog] [type=checkbox]");
    await press(page, "[role=dialog] ::-p-text(Close)");
    await page.waitForFunction(() => document.querySelector("[role=dialog]") === null);
    await page.keyboard.press("j");
    await page.keyboard.press("ArrowRight");
    await page.waitForSelector("[data-case='s-2'][aria-selected=true]");
    expect(await page.$("[role=dialog]")).toBeNull();
    await page.keyboard.press("?");
    await press(page, "[role=dialog] [type=checkbox]");
    await press(page, "[role=dialog] ::-p-text(Close)");
  });

  it.each(["order", "survey", "cases", "baseline", "phrasebook", "journal", "settings", "bench?module=sluice"])(
    "hold at twice the size without running out of the window: %s",
    async (view) => {
      await page.setViewport({ width: 640, height: 400 });
      await page.goto(`${server.url}/port/${id}/${view}`);
      await page.waitForSelector("main");
      const { wide, room } = await page.evaluate(() => ({
        wide: document.documentElement.scrollWidth,
        room: window.innerWidth,
      }));
      await page.setViewport({ width: 1280, height: 800 });
      expect(wide).toBeLessThanOrEqual(room);
    },
  );

  it("show differences, choices and proven lines in forced colours", async () => {
    await bench("module=sluice&case=s-1");
    await page.waitForSelector("[data-case='s-1']");
    writeFileSync(path.join(folder, "twin/sluice.js"), TWIN);
    await page.waitForSelector("[data-case='s-1'][data-mark=differ]");
    // Buttons change when the check ends.
    await idle();
    const session = await page.createCDPSession();
    await session.send("Emulation.setEmulatedMedia", { features: [{ name: "forced-colors", value: "active" }] });
    await page.waitForSelector("tr[data-differs] mark");
    const seen = await page.evaluate(() => {
      const mark = document.querySelector("tr[data-differs] mark");
      if (!mark) return null;
      const style = getComputedStyle(mark);
      return { text: style.color, ground: style.backgroundColor };
    });
    expect(seen?.text).not.toBe(seen?.ground);
    expect(await accessibilityFaults(page)).toEqual([]);
    await session.send("Emulation.setEmulatedMedia", { features: [] });
  });

  it("can be walked by the accessibility tree alone", async () => {
    const names = async (role: string) => {
      const tree = await page.accessibility.snapshot({ interestingOnly: false });
      const found: string[] = [];
      const walk = (node: NonNullable<typeof tree>) => {
        if (node.role === role) found.push(node.name ?? "");
        for (const child of node.children ?? []) walk(child);
      };
      if (tree) walk(tree);
      return found;
    };
    expect((await names("option")).filter((name) => /^s-1: differs/.test(name))).toHaveLength(1);
    expect(await names("listbox")).toContain("Case tape");
    expect(await names("button")).toEqual(expect.arrayContaining([expect.stringMatching(/^Shrink/)]));
    const spoken = () => page.$$eval("[aria-live=polite]", (list) => list.map((item) => item.textContent).join(" | "));
    await page.keyboard.press("ArrowRight");
    await page.waitForSelector("[data-case='s-2'][aria-selected=true]");
    expect(await spoken()).toMatch(/steps, renamed|steps, same/);
    expect(await spoken()).toMatch(/s-2: differs/);
  });

  it("had no complaint from the browser", () => {
    // A case that was just deleted may be asked for once more.
    expect(complaints.filter((text) => !/404.*case=s-2/.test(text))).toEqual([]);
  });
});
