/** What the server answers to whom asks rightly and wrongly: each route, over HTTP, against the running application. */
import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bringIn, type RunningServer, startServer } from "@/testing/browser";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

let server: RunningServer;
let id: string;
const browse = temporaryFolder({
  "p/side-twin.json": portFile({
    name: "Routes",
    twins: [{ name: "twin", root: "twin", language: "javascript" }],
    allowances: [
      { id: "spelling", where: { case: "c-say" }, allow: { ignore: true }, reason: "as the harbour writes it" },
    ],
  }),
  "p/original/m.py": "import json\n\ndef half(n):\n    return n // 2\n\ndef say(n):\n    return 'tern %d' % n\n",
  "p/original/rest.py": "from m import half\n\ndef rest(n):\n    return half(n)\n",
  "p/twin/m.mjs": "export const half = (n) => Math.trunc(n / 2);\nexport const say = (n) => 'Tern ' + n;\n",
  "p/cases/c.jsonl": [
    { id: "c-same", module: "m", call: "half", args: [4] },
    { id: "c-odd", module: "m", call: "half", args: [-3] },
    { id: "c-say", module: "m", call: "say", args: [1] },
  ],
  "plain/notes.txt": "no code here\n",
});

type Answer = { readonly status: number; readonly body: Record<string, unknown>; readonly text: string };

async function ask(method: string, route: string, body?: unknown): Promise<Answer> {
  const response = await fetch(`${server.url}/api/${route}`, {
    method,
    // A stream where an error is wanted would never end.
    signal: AbortSignal.timeout(60_000),
    ...(body === undefined
      ? {}
      : {
          headers: { "content-type": "application/json" },
          body: typeof body === "string" ? body : JSON.stringify(body),
        }),
  });
  const text = await response.text();
  const isJson = response.headers.get("content-type")?.includes("json");
  return { status: response.status, text, body: isJson && !text.includes("\n") ? JSON.parse(text) : {} };
}
const get = async (route: string) => (await ask("GET", `ports/${id}/${route}`)).body;
const portText = () => readFileSync(path.join(browse, "p/side-twin.json"), "utf8");
const idle = async () => {
  for (;;) {
    const { isRunning, lastCheck } = {
      isRunning: (await get("baseline")).isRunning,
      lastCheck: (await get("card")).lastCheck,
    };
    if (!isRunning && lastCheck !== null) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
};

beforeAll(async () => {
  server = await startServer({ command: "serve", browse });
  id = await bringIn(server, path.join(browse, "p"));
  await ask("POST", `ports/${id}/check`, {});
  await idle();
});

afterAll(() => server?.stop());

describe("a port's routes", () => {
  it("tell its state after a check", async () => {
    expect(await get("card")).toMatchObject({
      name: "Routes",
      modules: 2,
      totals: { agree: 1, differ: 1, allowed: 1 },
    });
    expect(await get("order")).toMatchObject({
      twin: "twin",
      modules: [{ name: "m" }, { name: "rest", needs: ["m"] }],
    });
    expect(await get("module?module=m")).toMatchObject({ module: "m" });
    expect(await get("bench?module=m")).toMatchObject({ module: { name: "m" }, cases: [{}, {}, {}] });
    expect(await get("survey")).toMatchObject({ languages: { python: { files: 2 } }, knots: [] });
    expect(await get("survey/uses?name=nothing")).toEqual({ name: "nothing", uses: [], mentions: [] });
    expect(await get("case?case=c-odd")).toMatchObject({ mark: "differ", section: "half", stale: false });
    const { text } = await ask("GET", `ports/${id}/cases/export?words=differ`);
    expect(
      text
        .trim()
        .split("\n")
        .map((line) => JSON.parse(line).id),
    ).toEqual(["c-odd"]);
  });

  it("keep what a person says in the port file, and take it back", async () => {
    const saying: [string, string, object, object, RegExp][] = [
      ["POST", "pin", { module: "rest", pinned: true }, { module: "rest", pinned: false }, /"pins": \[\s*"rest"/],
      ["POST", "leave-out", { module: "rest", reason: "gone" }, { module: "rest", reason: null }, /"gone"/],
      ["POST", "survey", { name: "json", way: "wrap", note: "later" }, { name: "json", way: null, note: "" }, /"wrap"/],
    ];
    for (const [method, route, on, off, written] of saying) {
      const before = JSON.parse(portText());
      expect(await ask(method, `ports/${id}/${route}`, on)).toMatchObject({ status: 200 });
      expect(portText()).toMatch(written);
      expect(await ask(method, `ports/${id}/${route}`, off)).toMatchObject({ status: 200 });
      const after = JSON.parse(portText());
      for (const [key, value] of Object.entries(after))
        expect([key, value]).toEqual([key, before[key] ?? (Array.isArray(value) ? [] : undefined)]);
    }
  });

  it("agree to a difference, and take the agreement out", async () => {
    const agreed = await ask("POST", `ports/${id}/agree`, { cases: ["c-odd"], twin: "twin", reason: "rounds to zero" });
    expect(agreed.body).toEqual({ allowances: ["agreed-c-odd"] });
    await idle();
    expect(await get("case?case=c-odd")).toMatchObject({ mark: "allowed" });
    expect(await ask("DELETE", `ports/${id}/allowances`, { allowance: "agreed-c-odd" })).toMatchObject({ status: 200 });
    await idle();
    expect(await get("case?case=c-odd")).toMatchObject({ mark: "differ" });
  });

  it("enter what was agreed to and left out into the journal by themselves", async () => {
    const { entries } = (await get("journal")) as { entries: object[] };
    expect(entries).toMatchObject([
      { kind: "left-out", module: "rest", text: "gone" },
      { kind: "left-out", module: "rest", text: "Taken in again." },
      { kind: "agreed", module: "m", case: "c-odd", text: "rounds to zero" },
    ]);
  });

  it("show, try, write and apply phrases, and undo them", async () => {
    const phrase = {
      id: "tern",
      kind: "code",
      language: "javascript",
      from: "Math.trunc((:n:))",
      to: "Math.floor((:n:))",
    };
    const tried = await ask("POST", `ports/${id}/phrases/try`, { twin: "twin", phrase });
    expect(tried.body).toMatchObject({ places: [{ file: "m.mjs", line: 1, state: "ready" }] });
    expect(await ask("POST", `ports/${id}/phrases`, { phrase })).toMatchObject({ status: 200 });
    expect(await get("phrases")).toMatchObject({ phrases: [{ id: "tern", places: [{ state: "ready" }] }] });
    const applied = await ask("POST", `ports/${id}/phrases/apply`, { twin: "twin" });
    expect(applied.body).toMatchObject({ files: 1, places: 1 });
    const twin = () => readFileSync(path.join(browse, "p/twin/m.mjs"), "utf8");
    expect(twin()).toContain("Math.floor");
    expect(await ask("POST", `ports/${id}/snapshots`, { id: applied.body.snapshot })).toMatchObject({ status: 200 });
    expect(twin()).toContain("Math.trunc");
    await idle();
  });

  it("run the checks of the ladder once at a time, and forget those that were stopped", async () => {
    const before = portText();
    const command = ["node", "-e", "setTimeout(() => {}, 60_000)"];
    const ladder = [{ name: "slow", check: { command, reads: "tsc" } }];
    writeFileSync(path.join(browse, "p/side-twin.json"), JSON.stringify({ ...JSON.parse(before), ladder }));
    while (((await get("ladder")).rungs as object[]).length === 0)
      await new Promise((resolve) => setTimeout(resolve, 50));
    expect(await ask("POST", `ports/${id}/ladder`, { twin: "nobody" })).toMatchObject({ status: 404 });
    const stop = new AbortController();
    const ended = fetch(`${server.url}/api/ports/${id}/ladder`, {
      method: "POST",
      body: JSON.stringify({ twin: "twin" }),
      signal: stop.signal,
    }).then(
      () => "answered",
      () => "stopped",
    );
    // Answered after the first was received, on the same server.
    await get("card");
    expect(await ask("POST", `ports/${id}/ladder`, { twin: "twin" })).toMatchObject({ status: 409 });
    stop.abort();
    expect(await ended).toBe("stopped");
    writeFileSync(path.join(browse, "p/side-twin.json"), before);
    expect(await get("ladder")).toMatchObject({ rungs: [], diagnosed: null, diagnostics: [] });
  });

  it("add cases one by one and from lines, all or none", async () => {
    const good = { id: "c-new", module: "m", call: "half", args: [9], kwargs: {} };
    expect(await ask("POST", `ports/${id}/cases`, { case: good })).toMatchObject({
      body: { file: "cases/hand.jsonl" },
    });
    const lines = [
      { id: "c-a", module: "m", call: "half", args: [1] },
      { id: "c-b", module: "m", call: "half", args: [2] },
    ];
    const text = lines.map((line) => JSON.stringify(line)).join("\n");
    expect(await ask("POST", `ports/${id}/cases/import`, { text })).toMatchObject({ body: { ids: ["c-a", "c-b"] } });
    const again = await ask("POST", `ports/${id}/cases/import`, { text: `${text.replaceAll("c-", "d-")}\n{"id":1}` });
    expect(again.status).toBe(400);
    expect((await ask("GET", `ports/${id}/cases/export`)).text).not.toContain("d-a");
  });
});

/** Method, route, body, the status, and what is said. `ID` stands for the port. */
const WRONG: [string, string, unknown, number, RegExp][] = [
  ["GET", "ports/nowhere/order", undefined, 404, /no such port/],
  ["GET", "ports/nowhere/events", undefined, 404, /no such port/],
  ["GET", "ports/nowhere/baseline", undefined, 404, /no such port/],
  ["POST", "ports/nowhere/check", {}, 404, /no such port/],
  ["POST", "ports/nowhere/pin", { module: "m", pinned: true }, 404, /no such port/],
  ["GET", "ports/ID/order?twin=other", undefined, 404, /no twin "other"/],
  ["GET", "ports/ID/module?module=nine", undefined, 404, /no module "nine"/],
  ["GET", "ports/ID/bench", undefined, 400, /module/],
  ["GET", "ports/ID/case?case=c-none", undefined, 404, /no case "c-none"/],
  ["GET", "ports/ID/picture?caseId=c-same&twin=twin&file=a.png&side=sideways", undefined, 400, /Invalid/],
  ["GET", "ports/ID/picture?caseId=c-same&twin=twin&file=a.png&side=twin", undefined, 404, /picture/],
  ["GET", "ports/ID/drift?module=m", undefined, 400, /section/],
  ["POST", "ports/ID/drift", { module: "m", section: "half", twin: "twin" }, 404, /has not drifted/],
  ["POST", "ports/ID/check", "{", 400, /not JSON/],
  ["POST", "ports/ID/check", { module: 3 }, 400, /Invalid input/],
  ["POST", "ports/ID/check", { everything: true }, 400, /Unknown key "everything"/],
  ["POST", "ports/ID/check", { module: "nine" }, 400, /no module "nine"/],
  ["POST", "ports/ID/check", { caseId: "c-none" }, 400, /no case "c-none"/],
  ["POST", "ports/ID/check", { twin: "other" }, 400, /no twin "other"/],
  ["POST", "ports/ID/pin", { module: "nine", pinned: true }, 404, /no module "nine"/],
  ["POST", "ports/ID/leave-out", { module: "nine", reason: "gone" }, 404, /no module "nine"/],
  ["POST", "ports/ID/leave-out", { module: "m", reason: "  " }, 400, /reason/],
  ["POST", "ports/ID/pair", { module: "m", on: "twin", original: null, twin: null, note: "" }, 400, /Invalid input/],
  ["POST", "ports/ID/pair", { module: "nine", on: "twin", original: "half", twin: "half", note: "" }, 404, /nine/],
  ["POST", "ports/ID/pair", { module: "m", on: "other", original: "half", twin: "half", note: "" }, 404, /other/],
  ["POST", "ports/ID/pair", { module: "m", on: "twin", original: "half", twin: "quarter", note: "" }, 404, /"quarter"/],
  ["POST", "ports/ID/pair", { module: "m", on: "twin", original: "none", twin: null, note: "" }, 404, /"none"/],
  ["POST", "ports/ID/survey", { name: "json", way: "burn", note: "" }, 400, /Invalid option/],
  ["PUT", "ports/ID/survey", { name: "", match: "json.*" }, 400, /a name and a pattern/],
  ["POST", "ports/ID/agree", { cases: ["c-same"], twin: "twin", reason: "so" }, 400, /does not differ/],
  ["POST", "ports/ID/agree", { cases: ["c-odd"], twin: "twin", reason: " " }, 400, /needs a reason/],
  ["POST", "ports/ID/allowances", { allowance: "none", twin: "twin" }, 404, /no allowance "none"/],
  ["DELETE", "ports/ID/allowances", { allowance: "none" }, 404, /no allowance "none"/],
  ["POST", "ports/ID/shrink", { caseId: "c-same" }, 400, /does not differ/],
  ["POST", "ports/ID/shrink", { caseId: "c-none" }, 400, /no case "c-none"/],
  ["POST", "ports/ID/cases", { case: { id: "x" } }, 400, /"case.module" is missing/],
  ["POST", "ports/ID/cases", { case: { id: "c-same", module: "m", call: "half" } }, 400, /c-same/],
  ["POST", "ports/ID/cases/import", { text: "" }, 400, /no case/],
  ["POST", "ports", { folder: "" }, 400, /Too small/],
  ["POST", "ports", { folder: "/etc" }, 403, /\/etc/],
  ["POST", "ports", { folder: "BROWSE/plain" }, 404, /side-twin\.json/],
  ["GET", "folders?folder=/etc", undefined, 403, /\/etc/],
  ["GET", "folders?folder=BROWSE/none", undefined, 404, /none/],
  ["POST", "bring-in", { kind: "folder", folder: "BROWSE/plain" }, 400, /no source code/],
  ["POST", "bring-in", { kind: "folder", folder: "/etc" }, 403, /\/etc/],
  ["POST", "bring-in", { kind: "tape", folder: "BROWSE/p" }, 400, /Invalid/],
  ["POST", "bring-in", { kind: "git", folder: "BROWSE/plain", revision: "main" }, 400, /repository/],
  ["GET", "bring-in/revisions?folder=/etc", undefined, 403, /\/etc/],
  ["POST", "bring-in/keep", { token: "x", draft: {} }, 400, /"draft.name" is missing/],
  ["POST", "bring-in/zip?name=a.zip", "no zip at all", 400, /zip/],
];

describe("a wrong request", () => {
  it.each(WRONG)("%s %s with %j is answered with %i", async (method, route, body, status, words) => {
    const here = (text: string) => text.replace("ID", id).replace("BROWSE", browse);
    const given = body === undefined ? undefined : JSON.parse(here(JSON.stringify(body)));
    const before = portText();
    const answer = await ask(method, here(route), given);
    const { error } = answer.body as { error?: { what: string; code: string; next?: string } };
    expect([answer.status, error?.what ?? answer.text]).toEqual([status, expect.stringMatching(words)]);
    expect(error?.code).not.toBe("internal");
    expect(portText()).toBe(before);
  });

  it("for a method or a route that is not there is refused", async () => {
    expect((await ask("PATCH", `ports/${id}/order`)).status).toBe(405);
    expect((await ask("GET", "nothing/here")).status).toBe(404);
  });

  it("leaves all else as it was", async () => {
    expect(await get("card")).toMatchObject({ modules: 2 });
    expect(await ask("DELETE", `ports/${id}`)).toMatchObject({ status: 200 });
    expect((await ask("GET", `ports/${id}/order`)).status).toBe(404);
    expect((await ask("GET", "ports")).text).toBe("[]");
    expect(JSON.parse(portText()).name).toBe("Routes");
  });
});
