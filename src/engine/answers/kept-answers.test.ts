import { appendFileSync, readdirSync, rmSync, utimesSync } from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { KeptAnswers } from "@/engine/answers/kept-answers";
import type { Read } from "@/engine/bridge/replies";
import { temporaryFolder } from "@/testing/temporary-port";

const value = (found: unknown, more: Partial<Read> = {}): Read =>
  ({ result: { kind: "call", value: found, args: [], kwargs: {}, printed: "" }, ms: 1, ...more }) as Read; // JSON
const BROKEN: Read = { result: { kind: "broken", why: "crashed", what: "no", lastOutput: "" }, ms: null };
const callValue = (read: Read | undefined) => (read?.result.kind === "call" ? read.result.value : undefined);

describe("answers that are kept", () => {
  it("are there for the same fingerprint, and not for another", async () => {
    const folder = temporaryFolder();
    const kept = await KeptAnswers.open(folder, "one");
    kept.keep("f(1)", value(1));
    kept.keep("f(2)", value(2, { lines: { "m.py": [1, 2] } }));
    kept.keep("f(3)", BROKEN);
    kept.setVersion("3.11");
    kept.flush();
    const again = await KeptAnswers.open(folder, "one");
    expect([callValue(again.get("f(1)")), callValue(again.get("f(2)"))]).toEqual([1, 2]);
    expect(again.get("f(2)")?.lines).toEqual({ "m.py": [1, 2] });
    // What broke may go better the next time.
    expect(again.get("f(3)")).toBeUndefined();
    expect(again.version).toBe("3.11");
    expect((await KeptAnswers.open(folder, "other")).get("f(1)")).toBeUndefined();
  });

  it("can be forgotten, one by one or all that were added", async () => {
    const folder = temporaryFolder();
    const kept = await KeptAnswers.open(folder, "one");
    for (const name of ["a", "b", "c"]) kept.keep(name, value(name));
    kept.forget("a");
    kept.flush();
    const again = await KeptAnswers.open(folder, "one");
    expect([again.get("a"), callValue(again.get("b"))]).toEqual([undefined, "b"]);
    again.keep("d", value("d"));
    again.forgetAdded();
    again.flush();
    const last = await KeptAnswers.open(folder, "one");
    expect([last.get("d"), callValue(last.get("b"))]).toEqual([undefined, "b"]);
  });

  it("survive a line that a killed process left half written", async () => {
    const folder = temporaryFolder();
    const kept = await KeptAnswers.open(folder, "one");
    kept.keep("a", value(1));
    kept.flush();
    appendFileSync(path.join(folder, "one.jsonl"), '["answer","b",{"res');
    const again = await KeptAnswers.open(folder, "one");
    expect([callValue(again.get("a")), again.get("b")]).toEqual([1, undefined]);
  });

  it("are of the newest three fingerprints", async () => {
    const folder = temporaryFolder();
    for (const [age, stamp] of ["oldest", "old", "new", "newest"].entries()) {
      const kept = await KeptAnswers.open(folder, stamp);
      kept.keep("a", value(1));
      kept.flush();
      utimesSync(path.join(folder, `${stamp}.jsonl`), 1000 + age, 1000 + age);
    }
    await KeptAnswers.open(folder, "newest");
    expect(readdirSync(folder).sort()).toEqual(["new.jsonl", "newest.jsonl", "old.jsonl"]);
  });

  it("are still used where nothing can be written any more", async () => {
    const folder = temporaryFolder();
    const kept = await KeptAnswers.open(path.join(folder, "answers"), "one");
    // As on a disk that is full: what is appended goes nowhere.
    rmSync(path.join(folder, "answers"), { recursive: true });
    kept.keep("a", value(1));
    kept.flush();
    kept.keep("b", value(2));
    kept.flush();
    expect([callValue(kept.get("a")), callValue(kept.get("b"))]).toEqual([1, 2]);
    const inTheWay = temporaryFolder({ "one.jsonl/inside": "" });
    await expect(KeptAnswers.open(inTheWay, "one")).rejects.toMatchObject({ code: "EISDIR" });
  });
});
