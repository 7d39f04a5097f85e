/** Takes the pictures in docs/screenshots from the demo data: `npm run screenshots [FOLDER]`. */
import { mkdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import type { Page } from "puppeteer-core";
import { packageRoot } from "@/engine/package-root";
import { startBrowser, startServer } from "@/testing/browser";

/** Scrolling and lists that are drawn as they come into sight. */
const SETTLE_MS = 700;
const folder = path.resolve(process.argv[2] ?? path.join(packageRoot(), "docs/screenshots"));
mkdirSync(folder, { recursive: true });

// Plain names, as paths are seen in the pictures: those of the system's own programs, and of a folder for the data.
process.env.PATH = ["/usr/bin", "/bin"].join(path.delimiter);
const data = path.join(tmpdir(), "side-twin");
rmSync(data, { recursive: true, force: true });
const server = await startServer({ data, browse: path.join(data, "demo") });
const { newPage, stop } = await startBrowser();
try {
  const page = await newPage();
  const shoot = (name: string, of: Page = page) => of.screenshot({ path: path.join(folder, `${name}.png`) });
  const settle = () => new Promise((resolve) => setTimeout(resolve, SETTLE_MS));
  await page.goto(server.url);
  const id = await page.evaluate(async () => {
    const ports: { id: string; name: string }[] = await (await fetch("/api/ports")).json();
    return ports.find((port) => port.name === "Saltmarsh Ferries")?.id ?? "";
  });
  await page.goto(`${server.url}/port/${id}/order`);
  await page.waitForSelector("[data-module=fares]");
  await page.keyboard.press("c");
  await page.waitForFunction(() => /of \d+ cases/.test(document.querySelector("[data-check]")?.textContent ?? ""));
  await page.waitForFunction(() => document.querySelector("[data-check=idle]") !== null);
  await page.waitForFunction(() => /% proven/.test(document.querySelector("header")?.textContent ?? ""));
  // The effort chart is drawn from the second check on.
  await page.keyboard.press("c");
  await page.waitForSelector("[aria-label=Effort] canvas");
  await page.waitForFunction(() => document.querySelector("[data-check=idle]") !== null);
  await page.keyboard.press("l");
  await page.waitForFunction(() => /took/.test(document.querySelector("[aria-label=Ladder]")?.textContent ?? ""));
  await page.click("[data-module=day_sheet]");
  await settle();
  await shoot("order");
  await page.goto(`${server.url}/port/${id}/settings`);
  await page.waitForSelector("main form");
  await settle();
  await shoot("settings");
  await page.goto(`${server.url}/port/${id}/cases?tab=families&case=run-next-2`);
  await page.waitForSelector("[aria-label='Where the two sides part']");
  await settle();
  await shoot("cases-parted");
  await page.goto(`${server.url}/port/${id}/bench?module=fares`);
  await page.waitForSelector("tr[data-differs]");
  await settle();
  await shoot("bench");
  await page.keyboard.press("n");
  await settle();
  await page.keyboard.press("m");
  await page.waitForSelector("[aria-label=Mend] pre");
  await settle();
  await shoot("bench-mend");
  await page.keyboard.press("w");
  await page.waitForSelector(".cm-content");
  await settle();
  await shoot("bench-edit");
  await page.goto(`${server.url}/port/${id}/bench?module=money`);
  await page.waitForSelector("[data-complaint]");
  await page.keyboard.press(".");
  await settle();
  await shoot("bench-complaints");
  await page.goto(`${server.url}/port/${id}/cases`);
  await page.waitForSelector("button[aria-pressed=true]");
  await page.keyboard.press("4");
  await page.waitForSelector("#record-command");
  await page.type("#record-command", "python3 -m ferry sheet 2031-06-11");
  await page.keyboard.press("Enter");
  await page.waitForSelector("[aria-label=Figures]");
  await settle();
  await shoot("cases-make");
  await (await page.waitForSelector("::-p-text(Take all out again)"))?.click();
  await page.goto(`${server.url}/port/${id}/phrasebook`);
  await page.waitForSelector("[data-fate=ready]");
  await settle();
  await shoot("phrasebook");
  await page.goto(`${server.url}/port/${id}/journal`);
  await page.waitForSelector("main");
  await settle();
  await shoot("journal");
  await page.goto(`${server.url}/port/${id}/bench?module=timetable`);
  await page.waitForSelector("tr[data-differs]");
  await settle();
  await shoot("bench-thrown");
  await page.goto(`${server.url}/port/${id}/bench?module=vessels&section=clearance`);
  await page.waitForSelector("[data-drift]");
  await settle();
  await shoot("bench-drift");
  await page.goto(`${server.url}/port/${id}/cases`);
  await page.waitForSelector("[data-suspect]");
  // The family whose smallest input is the easiest to read at a glance.
  await page.evaluate(() => {
    const buttons = [...document.querySelectorAll<HTMLButtonElement>("aside li button")];
    buttons.find((button) => /fares\.rebate/.test(button.innerText))?.click();
  });
  await page.waitForFunction(() => /Input: fares-rebate/.test(document.querySelector("main")?.innerText ?? ""));
  await settle();
  const shrink = await page.$$("main button");
  for (const button of shrink)
    if (await button.evaluate((item) => item.innerText.startsWith("Shrink"))) await button.click();
  await page.waitForSelector("[aria-label='Smallest input']");
  await shoot("cases");
  await page.keyboard.press("3");
  await page.waitForSelector("[data-allowance]");
  await shoot("allowances");
  await page.goto(`${server.url}/port/${id}/survey`);
  await page.waitForSelector("[data-column]");
  await settle();
  await shoot("survey");
  await page.goto(`${server.url}/port/${id}/baseline`);
  await page.waitForSelector("main h1");
  await page.keyboard.press("b");
  await page.waitForFunction(() => /What it printed/.test(document.querySelector("main")?.innerText ?? ""));
  await shoot("baseline");
  await page.goto(server.url);
  await page.waitForSelector("main li svg");
  await shoot("ports");
  await page.keyboard.press("N");
  for (const folder of ["saltmarsh-ferries", "original"]) {
    // The list is redrawn when its folder arrives: look up what is clicked at that moment.
    await page.waitForFunction(
      (wanted) => {
        const buttons = [...document.querySelectorAll<HTMLElement>("[aria-label=Folders] button")];
        const found = buttons.find((button) => button.innerText.startsWith(wanted));
        found?.click();
        return found !== undefined;
      },
      {},
      folder,
    );
  }
  await page.waitForFunction(() =>
    /original$/.test(document.querySelector<HTMLInputElement>("[aria-label='Path of the folder']")?.value ?? ""),
  );
  await (await page.waitForSelector("::-p-text(Read this folder)"))?.click();
  await page.waitForFunction(() => (document.querySelector("pre")?.textContent ?? "").includes("format"));
  await shoot("bring-in");
  const dark = await newPage("dark");
  await dark.goto(`${server.url}/port/${id}/bench?module=calendar_rules`);
  await dark.waitForSelector("tr[data-differs]");
  await settle();
  await shoot("bench-dark", dark);
} finally {
  await stop();
  await server.stop();
  rmSync(data, { recursive: true, force: true });
}
