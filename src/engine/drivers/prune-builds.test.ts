import { existsSync, mkdirSync, readdirSync, utimesSync, writeFileSync } from "node:fs";
import path from "node:path";
import { expect, it } from "vitest";
import { buildOnce } from "@/engine/drivers/build-once";
import { MAX_TARGETS, MAX_UNUSED_MS, pruneBuilds } from "@/engine/drivers/prune-builds";
import { temporaryFolder } from "@/testing/temporary-port";

const HOUR_S = 3600;

it("removes what was not used for long, and too much of a kind, but nothing of the last hour", async () => {
  const cache = temporaryFolder();
  const now = Date.now();
  const make = (name: string, secondsAgo: number) => {
    mkdirSync(path.join(cache, name), { recursive: true });
    utimesSync(path.join(cache, name), new Date(), new Date(now - secondsAgo * 1000));
  };
  make("c-old", MAX_UNUSED_MS / 1000 + 60);
  make("c-young", MAX_UNUSED_MS / 1000 - 60);
  for (let at = 0; at < MAX_TARGETS + 3; at++) make(`rust-target-${at}`, at < 2 ? at : (at + 1) * HOUR_S);
  make("c-parts", 0);
  for (const [name, ago] of [
    ["a.o", MAX_UNUSED_MS / 1000 + 60],
    ["b.o", 5],
  ] as const) {
    writeFileSync(path.join(cache, "c-parts", name), "");
    utimesSync(path.join(cache, "c-parts", name), new Date(), new Date(now - ago * 1000));
  }
  await pruneBuilds(cache, now);
  expect(readdirSync(cache).sort()).toEqual([
    "c-parts",
    "c-young",
    ...Array.from({ length: MAX_TARGETS }, (_, at) => `rust-target-${at}`),
  ]);
  expect(readdirSync(path.join(cache, "c-parts"))).toEqual(["b.o"]);
  await pruneBuilds(path.join(cache, "nowhere"));
});

it("a build is there whole or not at all, is made once, and counts as used when it is taken again", async () => {
  const home = path.join(temporaryFolder(), "c-1");
  await expect(buildOnce(home, () => Promise.reject(new Error("no")))).rejects.toThrow("no");
  expect(existsSync(home)).toBe(false);
  let times = 0;
  const work = async (folder: string) => {
    times++;
    writeFileSync(path.join(folder, "program"), "");
  };
  await Promise.all([buildOnce(home, work), buildOnce(home, work)]);
  expect(readdirSync(path.dirname(home))).toEqual(["c-1"]);
  const made = times;
  utimesSync(home, new Date(0), new Date(0));
  await buildOnce(home, work);
  expect(times).toBe(made);
  await pruneBuilds(path.dirname(home));
  expect(existsSync(home)).toBe(true);
});
