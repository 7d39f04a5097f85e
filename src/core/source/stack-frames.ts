/** Places that the text of an error names: the frames of its stack. Pure. */

/** A place as it is written: a path and a line. */
export type Frame = { readonly file: string; readonly line: number; readonly column: number | null };

/** `File "a/b.py", line 3`, and `a/b.ts:3:14` as most languages print it in stacks. */
const FRAMES = /File "([^"\n]+)", line (\d+)|((?:file:\/\/)?[\w@.+~/\\-]*[\w-]\.[A-Za-z]{1,4}):(\d+)(?::(\d+))?/g;
const MAX_FRAMES = 20;

/** In the order of the text, each once. Linear in it. */
export function framesIn(text: string): Frame[] {
  const found = new Map<string, Frame>();
  for (const [, pythonFile, pythonLine, file, line, column] of text.matchAll(FRAMES)) {
    const frame = {
      file: (pythonFile ?? file ?? "").replace(/^file:\/\//, ""),
      line: Number(pythonLine ?? line),
      column: column === undefined ? null : Number(column),
    };
    if (frame.line > 0) found.set(`${frame.file}:${frame.line}`, frame);
    if (found.size >= MAX_FRAMES) break;
  }
  return [...found.values()];
}
