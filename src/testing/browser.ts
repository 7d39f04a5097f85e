/** The real application in a real headless browser, for tests and for the pictures in the docs. */
import { type ChildProcess, spawn } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { createRequire } from "node:module";
import { tmpdir } from "node:os";
import path from "node:path";
import puppeteer, { type Browser, type Page } from "puppeteer-core";
import { packageRoot } from "@/engine/package-root";

export type RunningServer = {
  readonly url: string;
  readonly data: string;
  readonly process: ChildProcess;
  readonly stop: () => Promise<void>;
};

/** Starts `side-twin demo` (or `serve`) on a free port with a data folder of its own. */
export async function startServer(
  options: { readonly command?: "demo" | "serve"; readonly browse?: string; readonly data?: string } = {},
): Promise<RunningServer> {
  const own = options.data === undefined;
  const data = options.data ?? mkdtempSync(path.join(tmpdir(), "side-twin-data-"));
  const program = path.join(packageRoot(), "bin/side-twin.mjs");
  const browse = options.browse ? ["--browse", options.browse] : [];
  const child = spawn(
    process.execPath,
    [program, options.command ?? "demo", "--port", "0", "--data", data, ...browse],
    {
      stdio: ["ignore", "pipe", "pipe"],
    },
  );
  const url = await new Promise<string>((resolve, reject) => {
    let printed = "";
    const read = (chunk: Buffer) => {
      printed += chunk.toString("utf8");
      const found = /Side Twin is at (http:\S+)/.exec(printed)?.[1];
      if (found) resolve(found);
    };
    child.stdout?.on("data", read);
    child.stderr?.on("data", read);
    child.once("exit", () => reject(new Error(`the server ended:\n${printed}`)));
  });
  const stop = async () => {
    if (child.exitCode === null && child.signalCode === null) {
      const ended = new Promise((resolve) => child.once("exit", resolve));
      child.kill("SIGTERM");
      await ended;
    }
    if (own) rmSync(data, { recursive: true, force: true });
  };
  return { url, data, process: child, stop };
}

const CHROMIUM = ["/usr/bin/chromium", "/usr/bin/chromium-browser", "/usr/bin/google-chrome"];

/** A browser with a profile of its own, and how to end both. */
export async function startBrowser(): Promise<{
  browser: Browser;
  newPage: (scheme?: "light" | "dark") => Promise<Page>;
  stop: () => Promise<void>;
}> {
  const executablePath = CHROMIUM.find((file) => existsSync(file));
  if (!executablePath) throw new Error("Chromium is missing: `npm test` installs Debian's package `chromium`.");
  const profile = mkdtempSync(path.join(tmpdir(), "side-twin-browser-"));
  const browser = await puppeteer.launch({
    executablePath,
    headless: true,
    userDataDir: profile,
    args: [
      "--no-sandbox",
      "--disable-gpu",
      "--disable-quic",
      "--no-first-run",
      "--disable-background-networking",
      "--disable-component-update",
      "--disable-sync",
    ],
  });
  return {
    browser,
    newPage: async (scheme = "light") => {
      const page = await browser.newPage();
      // A busy machine is no fault: only a wait that never ends is.
      page.setDefaultTimeout(Number(process.env.SIDE_TWIN_WAIT_MS ?? 180_000));
      await page.setViewport({ width: 1280, height: 800 });
      await page.emulateMediaFeatures([{ name: "prefers-color-scheme", value: scheme }]);
      return page;
    },
    stop: async () => {
      await browser.close();
      rmSync(profile, { recursive: true, force: true });
    },
  };
}

/** Brings the port of a folder in; returns its id. */
export async function bringIn(server: RunningServer, folder: string): Promise<string> {
  const added = await fetch(`${server.url}/api/ports`, {
    method: "POST",
    body: JSON.stringify({ folder }),
    headers: { "content-type": "application/json" },
  });
  return ((await added.json()) as { id: string }).id;
}

/** Collects errors of a page's scripts and console from now on. */
export function watchComplaints(page: Page): string[] {
  const complaints: string[] = [];
  page.on("pageerror", (error) => complaints.push(String(error)));
  page.on("console", (message) => {
    if (message.type() !== "error") return;
    const url = message.location().url ?? "";
    complaints.push([message.text(), url.replace(/^https?:\/\/[^/]+/, "")].filter(Boolean).join(" "));
  });
  return complaints;
}

/** Accessibility faults of a page, serious and critical ones only. */
export async function accessibilityFaults(page: Page): Promise<string[]> {
  const source = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");
  await page.evaluate(source);
  return page.evaluate(async () => {
    const { axe } = window as unknown as {
      axe: {
        run: () => Promise<{
          violations: { id: string; impact: string; nodes: { html: string; failureSummary?: string }[] }[];
        }>;
      };
    };
    // Colours on their way from one to another are no fault: each is judged where it ends.
    const ending = document
      .getAnimations()
      .filter(({ effect }) => Number.isFinite(effect?.getComputedTiming().endTime));
    await Promise.allSettled(ending.map(({ finished }) => finished));
    const { violations } = await axe.run();
    return violations
      .filter(({ impact }) => impact === "serious" || impact === "critical")
      .map(({ id, nodes }) => `${id}: ${nodes[0]?.html} ${nodes[0]?.failureSummary}`);
  });
}

/** Clicks an element once it is in view, enabled and has come to rest: what loads above it may move it yet. */
export const press = (page: Page, selector: string, count = 1): Promise<void> =>
  page.locator(selector).click({ count });

/** Clicks what has these words, wherever a page that is still being laid out puts it meanwhile. */
export const pressWords = async (page: Page, words: string): Promise<void> => {
  const found = await page.waitForSelector(`::-p-text(${words})`);
  await found?.evaluate((element) => (element as HTMLElement).click());
};

/** The visible text of a part of the page. */
export const shownText = (page: Page, selector: string): Promise<string> =>
  page.$eval(selector, (element) => (element as HTMLElement).innerText);

/** Waits until a part of the page shows some text; on a timeout the error has the text shown instead. */
export const waitForText = async (page: Page, selector: string, words: string): Promise<void> => {
  const saysIt = (of: string, wanted: string) =>
    (document.querySelector<HTMLElement>(of)?.innerText ?? "").includes(wanted);
  await page.waitForFunction(saysIt, {}, selector, words).catch(async (thrown: unknown) => {
    const shown = await shownText(page, selector).catch(() => "(not on the page)");
    throw new Error(`"${words}" never came up in ${selector} of ${page.url()}, which shows: ${shown}`, {
      cause: thrown,
    });
  });
};
