/**
 * `npm run bench SIZE load`: the server under load. Fifty ports are opened at once; then a check of a port with twice SIZE
 * cases runs, fresh and again from kept answers, while three clients ask for its views one after another.
 */
import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { startServer } from "@/testing/browser";

const CLIENTS = 3;
const PORTS = 50;
const IDLE_MS = 20_000;
/** Faster than people click. */
const BETWEEN_CLICKS_MS = 250;

type Say = (line: string) => void;

export async function benchLoad(work: string, say: Say, count: number): Promise<void> {
  const browse = path.join(work, "load");
  writePort(path.join(browse, "big"), count);
  for (let index = 0; index < PORTS; index++) writePort(path.join(browse, `port${index}`), 20);
  const server = await startServer({ command: "serve", browse, data: path.join(work, "load-data") });
  const ask = async (route: string, body?: object) => {
    const started = performance.now();
    const response = await fetch(`${server.url}/api/${route}`, {
      ...(body ? { method: "POST", body: JSON.stringify(body), headers: { "content-type": "application/json" } } : {}),
    });
    const text = await response.text();
    return { ms: performance.now() - started, text, status: response.status };
  };
  const memory = () =>
    Math.round(Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.process.pid}/status`, "utf8"))?.[1]) / 1024);
  try {
    const opening = performance.now();
    const added = await Promise.all(
      Array.from({ length: PORTS }, (_, index) => ask("ports", { folder: path.join(browse, `port${index}`) })),
    );
    const listed = await ask("ports");
    say(
      `${PORTS} ports opened at once: ${((performance.now() - opening) / 1000).toFixed(1)} s, ${added.filter(({ status }) => status === 200).length} of them; the list of them in ${Math.round(listed.ms)} ms`,
    );
    const { id } = JSON.parse((await ask("ports", { folder: path.join(browse, "big") })).text);
    const before = memory();
    for (const fresh of [true, false]) say(await underLoad({ ask, id, fresh, memory }));
    await new Promise((resolve) => setTimeout(resolve, IDLE_MS));
    say(`memory: ${before} MB before, ${memory()} MB ${IDLE_MS / 1000} s after both`);
  } finally {
    await server.stop();
  }
}

type Load = {
  readonly ask: (route: string, body?: object) => Promise<{ ms: number; text: string }>;
  readonly id: string;
  readonly fresh: boolean;
  readonly memory: () => number;
};

async function underLoad({ ask, id, fresh, memory }: Load): Promise<string> {
  const routes = ["order", "card", "cases", "module?module=m", "bench?module=m", "case?case=a1"].map(
    (route) => `ports/${id}/${route}`,
  );
  const started = performance.now();
  await ask(`ports/${id}/check`, { fresh });
  let isOver = false;
  let highest = 0;
  const times: { route: string; ms: number }[] = [];
  const client = async (first: number) => {
    for (let at = first; !isOver; at++) {
      const route = routes[at % routes.length] ?? "ports";
      times.push({ route, ms: (await ask(route)).ms });
      highest = Math.max(highest, memory());
      await new Promise((resolve) => setTimeout(resolve, BETWEEN_CLICKS_MS));
    }
  };
  const over = (async () => {
    for (;;) {
      const { isRunning } = JSON.parse((await ask(`ports/${id}/baseline`)).text);
      if (!isRunning) break;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    // Requests of the view that is computed when a check ends count too.
    await new Promise((resolve) => setTimeout(resolve, 1500));
    isOver = true;
    return (performance.now() - started) / 1000 - 1.5;
  })();
  const [seconds] = await Promise.all([over, ...Array.from({ length: CLIENTS }, (_, index) => client(index * 2))]);
  const worst = times.reduce((most, one) => (one.ms > most.ms ? one : most), { route: "", ms: 0 });
  const slow = times.filter(({ ms }) => ms > 1000).length;
  return `check ${fresh ? "fresh" : "again"} with ${CLIENTS} clients: ${seconds.toFixed(1)} s, ${times.length} requests, ${slow} over 1 s, the slowest ${Math.round(worst.ms)} ms (${worst.route.replace(/^ports\/\w+\//, "")}), at most ${highest} MB`;
}

function writePort(folder: string, count: number): void {
  for (const side of ["original", "twin", "cases"]) mkdirSync(path.join(folder, side), { recursive: true });
  writeFileSync(path.join(folder, "original/m.py"), "def add(a, b):\n    return {'sum': a + b, 'half': a / 2}\n");
  writeFileSync(
    path.join(folder, "twin/m.js"),
    "exports.add = (a, b) => ({ sum: a % 1000 === 7 ? b : a + b, half: a / 2 });\n",
  );
  const cases = Array.from({ length: count }, (_, n) => `{"id":"a${n}","module":"m","call":"add","args":[${n},2]}\n`);
  writeFileSync(path.join(folder, "cases/c.jsonl"), cases.join(""));
  writeFileSync(
    path.join(folder, "side-twin.json"),
    JSON.stringify({
      format: "side-twin/port",
      version: 1,
      name: path.basename(folder),
      original: { root: "original", language: "python" },
      twins: [{ name: "js", root: "twin", language: "javascript" }],
      cases: ["cases/*.jsonl"],
    }),
  );
}
