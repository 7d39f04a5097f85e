/** One small change of a text, and the places where it is worth to be made. */

/** Replaces the characters from `start` to `end`. */
export type Edit = {
  readonly start: number;
  readonly end: number;
  readonly text: string;
  /** Line of the place, from 1. */
  readonly line: number;
  /** A description of the change. */
  readonly what: string;
  /** How likely such a change is the mend, from 0 to 1, whatever its place. */
  readonly prior: number;
};

/** The text with the change. */
export const applyEdit = (text: string, { start, end, text: put }: Pick<Edit, "start" | "end" | "text">): string =>
  text.slice(0, start) + put + text.slice(end);

const CONTEXT = 3;

/** The change as a unified diff of one file, with line numbers of both texts. */
export function diffOf(file: string, before: string, after: string): string {
  const [old, now] = [before.split("\n"), after.split("\n")];
  let head = 0;
  while (head < old.length && head < now.length && old[head] === now[head]) head++;
  let tail = 0;
  while (tail < old.length - head && tail < now.length - head && old.at(-1 - tail) === now.at(-1 - tail)) tail++;
  const from = Math.max(0, head - CONTEXT);
  const [oldTo, nowTo] = [old.length - tail, now.length - tail];
  const end = Math.min(old.length, oldTo + CONTEXT);
  const marked = (sign: string, lines: readonly string[]) => lines.map((line) => `${sign}${line}`);
  return [
    `--- ${file}`,
    `+++ ${file}`,
    `@@ -${from + 1},${end - from} +${from + 1},${end - from + (nowTo - oldTo)} @@`,
    ...marked(" ", old.slice(from, head)),
    ...marked("-", old.slice(head, oldTo)),
    ...marked("+", now.slice(head, nowTo)),
    ...marked(" ", old.slice(oldTo, end)),
    "",
  ].join("\n");
}
