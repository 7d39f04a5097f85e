/**
 * Python built-ins that JavaScript lacks, as functions that are added to a draft that calls them. Their names begin with `py`, so
 * that they cannot clash with the original's.
 */

const error = (name: string) => `class ${name} extends Error {\n  name = "${name}";\n}`;

/** Python's exceptions that JavaScript has no class of the same name for. */
export const EXCEPTIONS = [
  "ValueError",
  "KeyError",
  "IndexError",
  "LookupError",
  "ArithmeticError",
  "ZeroDivisionError",
  "RuntimeError",
  "NotImplementedError",
  "AttributeError",
  "OverflowError",
  "Exception",
];

/** Messages match Python 3.11; a whole float is indistinguishable from an int. */
const FUNCTIONS: Readonly<Record<string, string>> = {
  notPorted: `function notPorted(T: string what) R: never {\n  throw new Error("not ported: " + what);\n}`,
  pyDivide: `function pyDivide(T: number a, T: number b) {\n  if (b === 0) throw new ZeroDivisionError(Number.isInteger(a) ? "division by zero" : "float division by zero");\n  return a / b;\n}`,
  pyFloorDivide: `function pyFloorDivide(T: number a, T: number b) {\n  if (b === 0) throw new ZeroDivisionError(Number.isInteger(a) ? "integer division or modulo by zero" : "float floor division by zero");\n  return Math.round((a - pyModulo(a, b)) / b) + 0;\n}`,
  pyModulo: `function pyModulo(T: number a, T: number b) {\n  if (b === 0) throw new ZeroDivisionError(Number.isInteger(a) ? "integer modulo by zero" : "float modulo");\n  const rest = a % b;\n  return rest !== 0 && rest < 0 !== b < 0 ? rest + b : rest + 0;\n}`,
  pyRound: `function pyRound(T: number a) {\n  const low = Math.floor(a);\n  if (a - low !== 0.5) return Math.round(a) + 0;\n  return low % 2 === 0 ? low : low + 1;\n}`,
  pyItemAt: `function pyItemAt(T: any[] items, T: number index, what = "list") {\n  const at = index < 0 ? index + items.length : index;\n  if (!(at >= 0 && at < items.length)) throw new IndexError(what + " index out of range");\n  return items[at];\n}`,
  pyValueOf: `function pyValueOf(T: any of, T: any key) {\n  if (!Object.hasOwn(of, key)) throw new KeyError(typeof key === "string" ? "'" + key + "'" : String(key));\n  return of[key];\n}`,
  pyTextOrder: `function pyTextOrder(T: string[] texts) {\n  const points = (T: string text) => [...text].map((sign) => sign.codePointAt(0) ?? 0);\n  return [...texts].sort((a, b) => {\n    const [left, right] = [points(a), points(b)];\n    const at = left.findIndex((point, index) => point !== right[index]);\n    return at === -1 ? left.length - right.length : (left[at] ?? 0) - (right[at] ?? -1);\n  });\n}`,
  pyZeroFilled: `function pyZeroFilled(T: number value, T: number width) {\n  const sign = value < 0 ? "-" : "";\n  return sign + String(Math.abs(value)).padStart(width - sign.length, "0");\n}`,
  pyRange: `function pyRange(T: number from, T: number to) {\n  return Array.from({ length: Math.max(0, to - from) }, (_, index) => from + index);\n}`,
  pyKeys: `function pyKeys(T: any of) {\n  const keys = Object.keys(of);\n  if (keys.length > 1 && keys.some((key) => /^(0|[1-9]\\d*)$/.test(key))) notPorted("the order of keys that are numbers");\n  return keys;\n}`,
  pyItems: `function pyItems(T: any of) {\n  return pyKeys(of).map((key) => [key, of[key]]);\n}`,
  pySplitWords: `function pySplitWords(T: string text) {\n  return text.split(/\\s+/).filter((word) => word !== "");\n}`,
};

/** Name → text of every helper, in JavaScript or TypeScript. */
export function helpersFor(language: string): Map<string, string> {
  const isTyped = language === "typescript";
  const typed = (text: string) =>
    text.replace(/T: (\S+) (\w+)/g, isTyped ? "$2: $1" : "$2").replace(/ R: (\w+)/g, isTyped ? ": $1" : "");
  return new Map([
    ...EXCEPTIONS.map((name) => [name, error(name)] as const),
    ...Object.entries(FUNCTIONS).map(([name, text]) => [name, typed(text)] as const),
  ]);
}
