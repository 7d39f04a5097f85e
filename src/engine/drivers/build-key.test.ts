import { utimesSync, writeFileSync } from "node:fs";
import path from "node:path";
import { expect, it } from "vitest";
import { driverKey, sideKey } from "@/engine/drivers/build-key";
import { driversFolder } from "@/engine/drivers/index";
import { temporaryFolder } from "@/testing/temporary-port";

it("a side is another one when a source, a file beside, or one from outside is", async () => {
  const folder = temporaryFolder({ "a.c": "int a;", "table.dat": "1" });
  const outside = temporaryFolder({ "deep/x.h": "1" });
  const key = (terms: readonly string[] = []) =>
    sideKey({ folder, files: ["a.c", "table.dat"] }, (file) => file.endsWith(".c"), terms, [outside, "/nowhere"]);
  const first = await key();
  // The text of a source counts, not its time.
  utimesSync(path.join(folder, "a.c"), new Date(0), new Date(0));
  expect(await key()).toBe(first);
  expect(await key(["-O2"])).not.toBe(first);
  const seen = new Set([first]);
  for (const file of [path.join(folder, "a.c"), path.join(folder, "table.dat"), path.join(outside, "deep/x.h")]) {
    writeFileSync(file, "changed");
    seen.add(await key());
  }
  expect(seen.size).toBe(4);
});

it("a driver that tells lines is another one than one that does not", async () => {
  const home = driversFolder();
  const plain = await driverKey({ home, lines: false }, ["c"]);
  expect(await driverKey({ home, lines: false }, ["c"])).toBe(plain);
  expect(await driverKey({ home, lines: true }, ["c"])).not.toBe(plain);
  expect(await driverKey({ home, lines: false }, ["go"])).not.toBe(plain);
});
