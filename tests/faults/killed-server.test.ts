/** The server killed in the middle of a check, at moments of chance: nothing that was shown as saved is lost. */
import { rmSync } from "node:fs";
import fc from "fast-check";
import { afterAll, describe, expect, it } from "vitest";
import type { PortEvent } from "@/api/port-event";
import type { OrderView, PortCard } from "@/api/views";
import { startServer } from "@/testing/browser";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const COUNT = 600;
const data = temporaryFolder();
const browse = temporaryFolder({
  "p/side-twin.json": portFile({ name: "Slow" }),
  "p/original/m.py": "import time\ndef slow(n):\n    time.sleep(0.002)\n    return n\n",
  "p/twin/m.ts": "export const slow = (n: number) => n;\n",
  "p/cases/m.jsonl": Array.from({ length: COUNT }, (_, index) => ({
    id: `s${index}`,
    module: "m",
    call: "slow",
    args: [index],
  })),
});
afterAll(() => rmSync(data, { recursive: true, force: true }));

const json = async <T>(url: string, init?: RequestInit): Promise<T> => (await fetch(url, init)).json() as Promise<T>;
const post = (url: string, body: object) =>
  json<{ id: string }>(url, {
    method: "POST",
    body: JSON.stringify(body),
    headers: { "content-type": "application/json" },
  });

/** Follows a port's events until `enough` says so; gives the cases that were told as saved. */
async function follow(
  url: string,
  id: string,
  enough: (told: number, event: PortEvent) => boolean,
): Promise<Set<string>> {
  const told = new Set<string>();
  const response = await fetch(`${url}/api/ports/${id}/events`);
  const reader = response.body?.getReader();
  const decoder = new TextDecoder();
  let rest = "";
  for (let chunk = await reader?.read(); chunk && !chunk.done; chunk = await reader?.read()) {
    const parts = (rest + decoder.decode(chunk.value, { stream: true })).split("\n\n");
    rest = parts.pop() ?? "";
    for (const part of parts.filter((text) => text.startsWith("data: "))) {
      const event: PortEvent = JSON.parse(part.slice("data: ".length));
      if (event.type === "verdicts") for (const { id: name } of event.list) told.add(name);
      if (enough(told.size, event)) {
        await reader?.cancel();
        return told;
      }
    }
  }
  return told;
}

describe("a server that is killed during a check", () => {
  it("starts again with all that was shown, the check interrupted, and takes it up where it stopped", async () => {
    const [moments] = fc.sample(fc.array(fc.integer({ min: 1, max: COUNT / 3 }), { minLength: 4, maxLength: 4 }), 1);
    let id = "";
    for (const [round, moment] of (moments ?? []).entries()) {
      const server = await startServer({ command: "serve", data, browse });
      id ||= (await post(`${server.url}/api/ports`, { folder: `${browse}/p` })).id;
      const following = follow(server.url, id, (told) => told >= moment);
      await post(`${server.url}/api/ports/${id}/check`, { fresh: round === 0 });
      const told = await following;
      const ended = new Promise((resolve) => server.process.once("exit", resolve));
      server.process.kill("SIGKILL");
      await ended;

      const again = await startServer({ command: "serve", data, browse });
      const { port } = await json<OrderView>(`${again.url}/api/ports/${id}/order`);
      const what = `killed once ${moment} were told, moments ${JSON.stringify(moments)}`;
      expect(port.lastCheck?.state, what).toBe("interrupted");
      expect(port.totals.agree, what).toBeGreaterThanOrEqual(told.size);
      await again.stop();
    }
    const last = await startServer({ command: "serve", data, browse });
    const [before] = await json<PortCard[]>(`${last.url}/api/ports`);
    const ended = follow(last.url, id, (_told, event) => event.type === "ended");
    await post(`${last.url}/api/ports/${id}/check`, before?.lastCheck?.scope ?? {});
    await ended;
    const { port } = await json<OrderView>(`${last.url}/api/ports/${id}/order`);
    expect(port).toMatchObject({ lastCheck: { state: "complete" }, totals: { agree: COUNT } });
    // What the killed check had answered was not asked again, though code that reads the clock is else never reused.
    expect(port.lastCheck?.reused?.original).toBeGreaterThan(0);
    expect(port.lastCheck?.reused?.original).toBeLessThan(COUNT);
    await last.stop();
  });
});
