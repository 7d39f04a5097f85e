/** What the server lets in: requests of its own pages, in sizes that it can answer while others wait. */
import { readFileSync, statSync } from "node:fs";
import { request } from "node:http";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bringIn, type RunningServer, startServer } from "@/testing/browser";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

const MODULES = Array.from({ length: 30 }, (_, index) => `m${index + 1}`);
const browse = temporaryFolder({
  "p/side-twin.json": portFile({ twins: [{ name: "twin", root: "twin", language: "javascript" }] }),
  ...Object.fromEntries(MODULES.map((name) => [`p/original/${name}.py`, "def f(n):\n    return n\n"])),
  "p/cases/hand.jsonl": [{ id: "a", module: "m1", call: "f", args: [1] }],
});
const file = path.join(browse, "p/side-twin.json");
let server: RunningServer;
let id: string;

beforeAll(async () => {
  server = await startServer({ command: "serve", browse });
  id = await bringIn(server, path.join(browse, "p"));
});
afterAll(() => server?.stop());

type Terms = { readonly method?: string; readonly headers?: Readonly<Record<string, string>>; readonly body?: string };

/** A request as it stands: neither the address nor the headers are put right on the way. */
const raw = (address: string, { method = "GET", headers = {}, body }: Terms = {}) =>
  new Promise<{ status: number; text: string }>((resolve, reject) => {
    const { port } = new URL(server.url);
    const sent = request({ host: "127.0.0.1", port, path: address, method, headers }, (response) => {
      let text = "";
      response.on("data", (chunk: Buffer) => {
        text += chunk.toString("utf8");
      });
      response.on("end", () => resolve({ status: response.statusCode ?? 0, text }));
    });
    sent.on("error", reject);
    sent.end(body);
  });

const post = (route: string, body: unknown) =>
  fetch(`${server.url}/api/ports/${id}/${route}`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(body),
  });

describe("a request", () => {
  it.each(["cross-site", "same-site"])(
    "that a page of another site causes is refused, a picture's too: %s",
    async (site) => {
      const headers = { "sec-fetch-site": site };
      expect((await raw(`/api/bring-in/revisions?folder=${browse}`, { headers })).status).toBe(403);
      expect((await raw("/api/ports", { headers })).status).toBe(403);
      expect((await raw("/api/ports", { method: "POST", headers })).status).toBe(403);
      // A link from elsewhere may open a page.
      expect((await raw("/", { headers })).status).toBe(200);
    },
  );

  it.each([
    ["a NUL in it", "/api/ports/%00/card"],
    ["half an escape", "/api/ports/%/card"],
    ["bytes that are no UTF-8", "/api/ports/%ff%fe/card"],
    ["a NUL in its query", "/api/ports?module=%00"],
  ])("with an address that has %s is told as malformed", async (_what, address) => {
    const { status, text } = await raw(address);
    expect([status, JSON.parse(text).error.code]).toEqual([400, "bad-input"]);
  });

  it.each(["TRACE", "OPTIONS", "PATCH"])("with the method %s is refused", async (method) => {
    expect((await raw("/api/ports", { method })).status).toBe(405);
  });

  it.each<[body: unknown, error: object]>([
    [{ module: "m1" }, { what: '"pinned" is missing', where: { file: "the request", key: "pinned" } }],
    [
      { module: "m1", pinned: true, soon: 1 },
      { what: 'Unknown key "soon"', where: { file: "the request", key: "soon" } },
    ],
    [{ module: 7, pinned: true }, { where: { file: "the request", key: "module" } }],
  ])("that is malformed is told what is wrong and where: %j", async (body, error) => {
    const answer = await post("pin", body);
    expect(answer.status).toBe(400);
    expect((await answer.json()).error).toMatchObject({ code: "bad-input", ...error });
  });

  it("that is too large is refused, told of its size or not", async () => {
    const body = JSON.stringify({ module: "x".repeat(2 * 1024 * 1024), pinned: true });
    const told = await raw(`/api/ports/${id}/pin`, {
      method: "POST",
      body,
      headers: { "content-length": `${body.length}` },
    });
    expect([told.status, JSON.parse(told.text).error.code]).toEqual([413, "too-large"]);
    const untold = await raw(`/api/ports/${id}/pin`, {
      method: "POST",
      body,
      headers: { "transfer-encoding": "chunked" },
    });
    expect(untold.status).toBe(413);
  });
});

describe("edits that come at the same moment", () => {
  it("are all in the port file", async () => {
    const pins = MODULES.slice(0, 10).map((module) => post("pin", { module, pinned: true }));
    const left = MODULES.slice(10, 20).map((module) => post("leave-out", { module, reason: "r" }));
    expect((await Promise.all([...pins, ...left])).map(({ status }) => status)).toEqual(Array(20).fill(200));
    const port = JSON.parse(readFileSync(file, "utf8"));
    expect(port.pins.toSorted()).toEqual(MODULES.slice(0, 10).toSorted());
    expect(port.modules.map((module: { name: string }) => module.name).toSorted()).toEqual(
      MODULES.slice(10, 20).toSorted(),
    );
    const back = await Promise.all(MODULES.slice(10, 20).map((module) => post("leave-out", { module, reason: null })));
    expect(back.every(({ status }) => status === 200)).toBe(true);
    expect(JSON.parse(readFileSync(file, "utf8")).modules).toEqual([]);
  });

  it("lose no case, and one id is given once", async () => {
    const add = (name: string) => post("cases", { case: { id: name, module: "m1", call: "f", args: [2] } });
    const answers = await Promise.all(["b", "c", "d", "b"].map(add));
    expect(answers.map(({ status }) => status).toSorted()).toEqual([200, 200, 200, 400]);
    const lines = readFileSync(path.join(browse, "p/cases/hand.jsonl"), "utf8").trim().split("\n");
    expect(lines.map((line) => JSON.parse(line).id).toSorted()).toEqual(["a", "b", "c", "d"]);
    expect(statSync(file).isFile()).toBe(true);
  });
});
