/** A sample of the standing attack (`npm run attack` makes all of it). */
import { describe, expect, it } from "vitest";
import { attackRepositories, attackZips, hasGit } from "./bundles";
import { attackOne, FILE_KINDS } from "./files";
import type { Finding } from "./finding";
import { attackByKills } from "./kills";
import { attackAnswers, attackCases, attackPortFile } from "./races";
import { attackTwin, FAULT_COUNT, faultNames, type Language } from "./twins";

const SEED = 20_310_402;
const wrongOf = (findings: readonly Finding[]) =>
  findings.flatMap(({ what, wrong }) => wrong.map((text) => `${what}: ${text}`));

describe("the standing attack", () => {
  it("knows at least 250 misbehaving twins in two languages", () => {
    expect(FAULT_COUNT).toBeGreaterThanOrEqual(250);
    expect(FILE_KINDS).toContain("side-twin.json");
  });

  it.each<Language>(["javascript", "python"])(
    "leaves good cases their verdicts beside bad ones in %s",
    async (language) => {
      expect(wrongOf(await attackTwin(language, faultNames(language, 12, 5)))).toEqual([]);
    },
  );

  it("reads or refuses malformed files", async () => {
    const findings: Finding[] = [];
    for (let index = 0; index < 264; index += 7) findings.push(await attackOne(index, SEED));
    expect(wrongOf(findings)).toEqual([]);
  });

  it("keeps hostile zips in their folder", async () => {
    expect(wrongOf(await attackZips(36, SEED))).toEqual([]);
  });

  it.runIf(hasGit())("starts no program of a hostile repository", async () => {
    const settings = [
      '[diff]\n\texternal = SCRIPT\n[filter "x"]\n\tclean = SCRIPT\n[log]\n\tshowSignature = true\n[gpg]\n\tprogram = SCRIPT',
    ];
    expect(wrongOf(await attackRepositories(settings))).toEqual([]);
  });

  it("loses no edit of screens and editors", async () => {
    expect(wrongOf(await attackPortFile(6, SEED))).toEqual([]);
    expect(wrongOf(await attackCases(4))).toEqual([]);
  });

  it("gives right verdicts to checks that run at once", async () => {
    expect(wrongOf(await attackAnswers(1))).toEqual([]);
  });

  it("loses nothing that was told when the server is killed", async () => {
    expect(wrongOf(await attackByKills(3, SEED))).toEqual([]);
  });
});
