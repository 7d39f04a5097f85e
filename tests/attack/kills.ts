/** The server killed at moments of chance, in checks, edits and bring-ins: nothing that was told is lost, nothing is half. */
import { existsSync, readdirSync, readFileSync } from "node:fs";
import path from "node:path";
import { type RunningServer, startServer } from "@/testing/browser";
import { type Finding, randomFrom } from "./finding";
import { portFile, scratchFolder } from "./scratch";

const COUNT = 400;
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

type Told = { readonly cases: Set<string>; readonly pins: Set<string> };

/** One server, data folder and port a round: what is told before the kill must be there after it. */
export async function attackByKills(rounds: number, seed: number): Promise<Finding[]> {
  const random = randomFrom(seed);
  const data = scratchFolder();
  const browse = scratchFolder({
    "p/side-twin.json": portFile(),
    "p/original/m.py": "import time\ndef slow(n):\n    time.sleep(0.002)\n    return n\n",
    ...Object.fromEntries(
      Array.from({ length: 30 }, (_, index) => [`p/original/o${index}.py`, "def f():\n    return 1\n"]),
    ),
    "p/twin/m.js": "export const slow = (n) => n;\n",
    "p/cases/m.jsonl": Array.from({ length: COUNT }, (_, n) => ({ id: `s${n}`, module: "m", call: "slow", args: [n] })),
    "q/n.py": "def g(n):\n    return n\n",
  });
  const file = path.join(browse, "p/side-twin.json");
  const findings: Finding[] = [];
  let id = "";
  for (let round = 0; round < rounds; round++) {
    const server = await startServer({ command: "serve", data, browse });
    id ||= (await ask(server, "POST", "ports", { folder: `${browse}/p` })).id;
    const told: Told = { cases: new Set(), pins: new Set() };
    const kind = ["check", "edits", "bring-in"][round % 3] ?? "check";
    const stop = new AbortController();
    const work =
      kind === "check"
        ? checking(server, id, told, stop.signal)
        : kind === "edits"
          ? editing(server, id, told, stop.signal)
          : bringing(server, browse, stop.signal);
    // The server goes away under it: that is no failure of its own.
    const settled = work.catch(() => undefined);
    await pause(20 + random() * (kind === "check" ? 1500 : 300));
    const ended = new Promise((resolve) => server.process.once("exit", resolve));
    server.process.kill("SIGKILL");
    await ended;
    stop.abort();
    await settled;
    const again = await startServer({ command: "serve", data, browse });
    const wrong = await look(again, { id, told, file, data });
    await again.stop();
    findings.push({
      group: `killed in ${kind === "edits" ? "edits" : `a ${kind}`}`,
      what: `round ${round}, seed ${seed}`,
      count: 1,
      wrong,
    });
  }
  return findings;
}

// biome-ignore lint/suspicious/noExplicitAny: answers of many routes, looked at by field
async function ask(server: RunningServer, method: string, route: string, body?: object): Promise<any> {
  const response = await fetch(`${server.url}/api/${route}`, {
    method,
    ...(body ? { body: JSON.stringify(body), headers: { "content-type": "application/json" } } : {}),
  });
  return response.json();
}

async function checking(server: RunningServer, id: string, told: Told, signal: AbortSignal): Promise<void> {
  const response = await fetch(`${server.url}/api/ports/${id}/events`, { signal });
  const reader = response.body?.getReader();
  const decoder = new TextDecoder();
  await ask(server, "POST", `ports/${id}/check`, { fresh: true });
  let rest = "";
  for (let chunk = await reader?.read(); chunk && !chunk.done; chunk = await reader?.read()) {
    const parts = (rest + decoder.decode(chunk.value, { stream: true })).split("\n\n");
    rest = parts.pop() ?? "";
    for (const part of parts) {
      const event = part.startsWith("data: ") ? JSON.parse(part.slice(6)) : {};
      if (event.type === "verdicts") for (const { id: name } of event.list) told.cases.add(name);
    }
  }
}

async function editing(server: RunningServer, id: string, told: Told, signal: AbortSignal): Promise<void> {
  for (let at = 0; !signal.aborted; at = (at + 1) % 30) {
    const module = `o${at}`;
    const pinned = !told.pins.has(module);
    await ask(server, "POST", `ports/${id}/pin`, { module, pinned });
    if (pinned) told.pins.add(module);
    else told.pins.delete(module);
  }
}

async function bringing(server: RunningServer, browse: string, signal: AbortSignal): Promise<void> {
  while (!signal.aborted) {
    const found = await ask(server, "POST", "bring-in", { kind: "folder", folder: `${browse}/q` });
    if (found.token) await ask(server, "POST", "bring-in/keep", { token: found.token, draft: found.draft });
  }
}

type Before = { readonly id: string; readonly told: Told; readonly file: string; readonly data: string };

async function look(server: RunningServer, { id, told, file, data }: Before): Promise<string[]> {
  const wrong: string[] = [];
  const ports = await ask(server, "GET", "ports");
  if (!Array.isArray(ports)) return ["the ports cannot be listed"];
  for (const port of ports) if (port.problem) wrong.push(`a port is broken: ${port.problem.what}`);
  const { totals } = await ask(server, "GET", `ports/${id}/card`);
  if (totals.agree < told.cases.size) wrong.push(`${told.cases.size} cases were told, ${totals.agree} are there`);
  let port: { pins?: string[] } = {};
  try {
    port = JSON.parse(readFileSync(file, "utf8"));
  } catch {
    wrong.push("the port file is no JSON");
  }
  // The one edit that was under way may have come through or not.
  const missing = [...told.pins].filter((name) => !port.pins?.includes(name));
  if (told.pins.size > 0 && missing.length > 1) wrong.push(`${missing.length} pins are lost`);
  const parts = [path.dirname(file), path.join(path.dirname(file), "cases")].flatMap((folder) => readdirSync(folder));
  if (parts.some((name) => name.endsWith(".part"))) wrong.push("a temporary file was left");
  if (existsSync(path.join(data, "incoming"))) wrong.push("a copy that was looked at was left");
  return wrong;
}
