/** From somebody's code to a port with a baseline, as a user does it: a folder, a git repository, a zip. */
import { createWriteStream, existsSync, readdirSync, readFileSync, realpathSync } from "node:fs";
import path from "node:path";
import { pipeline } from "node:stream/promises";
import type { Page } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { ZipFile } from "yazl";
import {
  accessibilityFaults,
  press,
  type RunningServer,
  shownText,
  startBrowser,
  startServer,
  waitForText,
  watchComplaints,
} from "@/testing/browser";
import { gitIn } from "@/testing/git";
import { temporaryFolder } from "@/testing/temporary-port";

let server: RunningServer;
let browser: Awaited<ReturnType<typeof startBrowser>>;
let page: Page;
let complaints: string[] = [];
const zips = temporaryFolder();
const browse = temporaryFolder({
  "quays/quay/__main__.py": "from quay.lamps import lamps\nprint('lamps:', lamps(3))\n",
  "quays/quay/lamps.py": "import datetime\n\ndef lamps(n):\n    return [datetime.date(2031, 1, n).isoformat()]\n",
  "quays/quay/ropes.py": "def ropes(n):\n    return n * 2\n",
  "quays/tests/test_lamps.py": "from quay.lamps import lamps\n",
  "knots/knots.py": "def knots(kmh):\n    if kmh < 0:\n        return 0\n    return kmh * 2\n",
  "knots/setup.py": "from setuptools import setup\nsetup(name='knots')\n",
  "knots/test_knots.py":
    "import unittest\nfrom knots import knots\n\nclass KnotsTest(unittest.TestCase):\n    def test_knots(self):\n        self.assertEqual(knots(4), 8)\n        self.assertEqual(knots(-1), 0)\n",
});
const text = (selector: string) => shownText(page, selector);
const saying = (selector: string, words: string) => waitForText(page, selector, words);
const pressWords = (words: string) => press(page, `::-p-text(${words})`);
const type = async (label: string, value: string) => {
  await press(page, `::-p-aria(${label})`, 3);
  await page.keyboard.type(value);
};

beforeAll(async () => {
  const git = gitIn(path.join(browse, "quays"));
  git("init", "-q", "-b", "trunk");
  git("add", "-A");
  git("commit", "-qm", "first");
  git("tag", "old");
  const zip = new ZipFile();
  zip.addBuffer(Buffer.from("exports.rope = (n) => n;\n"), "ropes-2/index.js");
  zip.end();
  await pipeline(zip.outputStream, createWriteStream(path.join(zips, "ropes.zip")));
  server = await startServer({ command: "serve", browse });
  browser = await startBrowser();
  page = await browser.newPage();
  complaints = watchComplaints(page);
});

afterAll(async () => {
  await browser?.stop();
  await server?.stop();
});

describe("bringing in", () => {
  it("reads a folder, and shows what is there and the port that it would make", async () => {
    await page.goto(server.url);
    await page.waitForSelector("main h1");
    await page.keyboard.press("N");
    await pressWords("quays");
    await page.waitForFunction(() =>
      /quays$/.test(document.querySelector<HTMLInputElement>("[aria-label='Path of the folder']")?.value ?? ""),
    );
    await pressWords("Read this folder");
    await saying("pre", '"format"');
    const there = await text("[aria-label='What is there']");
    expect(there).toMatch(/3 modules in 2 layers; 3 sections|3 modules in 2 layers/);
    expect(there).toMatch(/Python 3\./);
    expect(there).toMatch(/tests\/test_lamps\.py/);
    expect(there).toMatch(/datetime/);
    expect(await text("pre")).toContain('"run": ["python3", "-m", "quay"]');
    expect(await accessibilityFaults(page)).toEqual([]);
    expect(existsSync(path.join(browse, "quays-port"))).toBe(false);
  });

  it("follows corrections with their effect, and says what is wrong with one", async () => {
    await type("Files of the twin", "lib/*.ts");
    await saying("pre", "lib/*.ts");
    await page.select("[aria-label='One module is']", "folder");
    await saying("[aria-label='Modules of the port']", "3 files");
    await page.select("[aria-label='One module is']", "file");
    await type("Started by", "python3 -m quay > out");
    await saying("footer", "Shell operators");
    await type("Started by", "python3 -m quay");
    await page.waitForFunction(() => !document.querySelector("footer [role=alert]"));
    // What was corrected stays when something else is.
    await type("Started by", "python3 -m quay --all");
    await type("Twin's folder", "ported");
    await saying("pre", '"root": "ported"');
    await page.waitForNetworkIdle();
    expect(await text("pre")).toContain('"--all"');
    expect(await text("pre")).toContain("lib/*.ts");
    await type("Started by", "python3 -m quay");
  });

  it("makes the port, and shows the original run", async () => {
    await pressWords("Add the port and run the original");
    await saying("main", "in all");
    const seen = await text("main");
    expect(seen).toMatch(/lamps: \['2031-01-03'\]/);
    expect(seen).toMatch(/0 not repeatable/);
    expect(await text("header")).toMatch(/Quays/);
    const port = JSON.parse(readFileSync(path.join(browse, "quays-port/side-twin.json"), "utf8"));
    expect(port).toMatchObject({ original: { root: "../quays" }, moduleMap: [{ twin: "lib/*.ts" }] });
    expect(await accessibilityFaults(page)).toEqual([]);
  });

  it("copies a revision of a repository into the data folder", async () => {
    await page.goto(`${server.url}/bring-in`);
    await pressWords("A git repository");
    await pressWords("quays");
    await type("Revision", "old");
    await pressWords("Read this revision");
    await saying("[aria-label='What is there']", "at old");
    await pressWords("Add the port");
    await page.waitForSelector("[data-module=lamps]");
    const original = path.join(server.data, "ports/quays/original");
    expect(readFileSync(path.join(original, "quay/ropes.py"), "utf8")).toContain("def ropes");
    // It is no folder that a person may browse, and yet is read and watched.
    expect(existsSync(path.join(server.data, "ports/quays/side-twin.json"))).toBe(true);
  });

  it("unpacks a zip, refuses what is none, and forgets what is left", async () => {
    await page.goto(`${server.url}/bring-in`);
    await pressWords("A zip");
    const choose = await page.waitForSelector("input[type=file]");
    if (!choose) throw new Error("no place for a zip");
    await (choose as unknown as import("puppeteer-core").ElementHandle<HTMLInputElement>).uploadFile(
      path.join(browse, "quays/quay/ropes.py"),
    );
    await saying("main", "The zip cannot be read");
    await (choose as unknown as import("puppeteer-core").ElementHandle<HTMLInputElement>).uploadFile(
      path.join(zips, "ropes.zip"),
    );
    await saying("[aria-label='What is there']", "1 module");
    await page.keyboard.press("Escape");
    await page.waitForSelector("input[type=radio]");
    await expect.poll(() => readdirSync(path.join(server.data, "incoming")), { timeout: 60_000 }).toEqual([]);
    expect(existsSync(path.join(server.data, "ports/ropes"))).toBe(false);
  });

  it("lists both ports, and what was seen of them", async () => {
    await page.goto(server.url);
    await page.waitForFunction(() => document.querySelectorAll("main li svg").length === 2);
    expect(await text("main")).toMatch(/The original runs/);
    expect(await text("main")).toMatch(/Run the original once/);
  });

  it("leads a library without a program, by keys, to cases from its tests and a first verdict", async () => {
    await page.goto(`${server.url}/bring-in`);
    /** Once a folder is shown, its path has been taken: there is nowhere else to go. */
    const isShown = (folder: string) =>
      page.waitForFunction(
        (of) =>
          document.querySelector<HTMLInputElement>("[aria-label='Path of the folder']")?.value === of &&
          document.querySelector<HTMLButtonElement>("form button[type=submit]")?.disabled === true,
        {},
        folder,
      );
    await isShown(realpathSync(browse));
    await page.focus("[aria-label='Path of the folder']");
    await page.keyboard.type(path.join(realpathSync(browse), "knots"));
    await page.keyboard.press("Enter");
    await isShown(path.join(realpathSync(browse), "knots"));
    await page.keyboard.press("Enter");
    await saying("[aria-label='Modules of the port']", "knots");
    expect(await text("[aria-label='Modules of the port']")).not.toMatch(/setup/);
    expect(await text("[aria-label='What is there']")).toMatch(/1 module in 1 layer/);
    expect(await text("footer")).not.toMatch(/run the original/);
    await page.keyboard.press("Enter");
    await page.waitForSelector("[data-module=knots]");
    await page.keyboard.press("Enter");
    await saying("[aria-label=Next]", "No case calls this module yet");
    // Nothing stands where there is nothing to read.
    expect(await page.$("[aria-label='Height of the reader']")).toBeNull();
    await press(page, "[aria-label=Next] ::-p-text(Record or generate cases)");
    await page.waitForFunction(
      () => document.querySelector<HTMLInputElement>("#record-command")?.value === "python3 -m unittest",
    );
    expect(await accessibilityFaults(page)).toEqual([]);
    await pressWords("Run it");
    await saying("main", "2 new cases");
    await page.goto(page.url().replace(/\/cases.*/, "/bench?module=knots"));
    await press(page, "[aria-label=Next] ::-p-text(Draft it)");
    await page.waitForFunction(() => document.querySelectorAll("[data-case][data-mark=agree]").length === 2);
  });

  it("had no complaint from the browser", () => {
    // What is refused is answered with status 400, which the browser notes.
    expect(complaints.filter((entry) => !/status of 400/.test(entry))).toEqual([]);
  });
});
