/** Lines that a case runs, in every language that tells them: one function in each, with the same branches. */
import { expect, it } from "vitest";
import { type StartedSide, startSide } from "./side";

/** Words in comments of a source mark its lines: `all` is executable, `one` and `two` are run by calls with 1 and 2. */
export function runsLines(language: string, file: string, source: string, name = "choose"): void {
  it(`tells the lines that a case ran in ${language}`, async () => {
    const marked = (word: string) =>
      source.split("\n").flatMap((line, at) => (new RegExp(`(//|#)[ \\w]*\\b${word}\\b`).test(line) ? [at + 1] : []));
    const side: StartedSide = await startSide(language, { [file]: source }, { lines: true });
    try {
      expect(await side.call(name, 1)).toMatchObject({ value: 10 });
      expect(side.lines()).toEqual({ [file]: marked("one") });
      expect(await side.call(name, 2)).toMatchObject({ value: 22 });
      expect(side.lines()).toEqual({ [file]: marked("two") });
      expect(await side.call(name, 1)).toMatchObject({ value: 10 });
      expect(side.lines()).toEqual({ [file]: marked("one") });
      expect(await side.executable(file)).toEqual(marked("all"));
    } finally {
      side.close();
    }
  }, 120_000);
}
