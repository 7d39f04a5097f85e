/**
 * From what V8 counted to lines of the source.
 *
 * V8 counts in the code it runs, which for TypeScript and ES modules is what esbuild made; the source map leads back.
 * A line was run when the innermost counted range at its first mapped place has a count; a function's own range is passed
 * over at the very place where it starts, as declaring a function runs the line and calling it does not.
 */

/** `made` keeps its places; with `isSince`, code outside every reported function did not run. */
export function linesRun(functions, made, isSince = false) {
  made.places ??= [...firstPlaces(made.starts, made.code, made.mappings)];
  const ranges = functions.flatMap((entry) =>
    entry.ranges.map((range, index) => ({ ...range, isFunction: index === 0 })),
  );
  const counted = (offset) => {
    let innermost = null;
    for (const range of ranges) {
      if (range.startOffset > offset || range.endOffset <= offset) continue;
      if (range.isFunction && range.startOffset === offset && offset > 0) continue;
      if (!innermost || range.endOffset - range.startOffset <= innermost.endOffset - innermost.startOffset)
        innermost = range;
    }
    return innermost === null ? !isSince : innermost.count > 0;
  };
  const run = [];
  for (const [line, offset] of made.places) if (counted(offset)) run.push(line);
  return run;
}

/** Offsets at which the lines of a text begin. */
export function startsOf(code) {
  const starts = [0];
  for (let at = code.indexOf("\n"); at !== -1; at = code.indexOf("\n", at + 1)) starts.push(at + 1);
  return starts;
}

const MAX_BLANK = 400;

/** Line of the source, from 1 → offset in the running code of the first thing on it. */
export function firstPlaces(starts, code, mappings) {
  if (!mappings) {
    return code.split("\n").flatMap((text, index) => {
      const blank = /^\s*/.exec(text)[0].length;
      return blank < text.length ? [[index + 1, starts[index] + blank]] : [];
    });
  }
  const first = new Map();
  for (const [madeLine, madeColumn, line, column] of decodeMappings(mappings)) {
    const known = first.get(line + 1);
    if (!known || column < known.column) first.set(line + 1, { column, offset: starts[madeLine] + madeColumn });
  }
  // Source maps point to the white space before a statement, which may belong to the previous one.
  const blank = (offset) => /^\s*/.exec(code?.slice(offset, offset + MAX_BLANK) ?? "")[0].length;
  return [...first].map(([line, { offset }]) => [line, offset + blank(offset)]);
}

const DIGITS = new Map(
  Array.from("ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/", (digit, value) => [digit, value]),
);

/** The mappings of a source map (ECMA-426, "Source map format", Base64 VLQ): [made line, made column, line, column], from 0. */
function* decodeMappings(mappings) {
  let [line, column] = [0, 0];
  for (const [madeLine, segments] of mappings.split(";").entries()) {
    let madeColumn = 0;
    for (const segment of segments ? segments.split(",") : []) {
      const [made, source, down, across] = decodeNumbers(segment);
      madeColumn += made;
      if (source === undefined) continue;
      line += down;
      column += across;
      yield [madeLine, madeColumn, line, column];
    }
  }
}

function decodeNumbers(segment) {
  const numbers = [];
  let [value, shift] = [0, 0];
  for (const digit of segment) {
    const bits = DIGITS.get(digit);
    value += (bits & 31) << shift;
    shift += 5;
    if (bits & 32) continue;
    numbers.push(value & 1 ? -(value >> 1) : value >> 1);
    [value, shift] = [0, 0];
  }
  return numbers;
}
