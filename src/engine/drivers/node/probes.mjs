/**
 * Lines that a case runs, by counters that are put into compiled code: far quicker than asking V8 after every case, and
 * enough for a search, which asks about thousands. Lines in reports are counted by V8 itself (coverage.mjs).
 *
 * Each statement, and each expression that may be passed over, marks its region; a line belongs to the innermost region
 * that its first place lies in.
 */
import { firstPlaces, startsOf } from "./lines.mjs";
import { parseCode } from "./parse-code.mjs";

/** The name under which a module's code finds its marks. */
export const MARKS = "__side_twin_ran";

/**
 * The code with marks, and the source lines that each mark covers. Null for code that cannot be parsed.
 * @param {string} code
 * @param {string | null} mappings those of its source map
 * @returns {{ code: string, lines: number[][] } | null}
 */
export function withProbes(code, mappings) {
  const tree = parseCode(code);
  if (!tree) return null;
  const made = { regions: [], openers: [], closers: [] };
  visit(tree, made);
  return { code: insert(code, made), lines: linesOf(made.regions, firstPlaces(startsOf(code), code, mappings)) };
}

const mark = (made, node) => `${MARKS}[${made.regions.push([node.start, node.end]) - 1}]=1`;

function visit(node, made) {
  if (node.type === "Program" || node.type === "BlockStatement" || node.type === "StaticBlock")
    return visitBlock(node, made);
  if (node.type === "SwitchCase") {
    if (node.test) visit(node.test, made);
    return visitStatements(node.consequent, made);
  }
  if (node.type === "ArrowFunctionExpression" && node.expression) {
    for (const param of node.params) visit(param, made);
    return wrap(node.body, made);
  }
  if (node.type === "ConditionalExpression") {
    visit(node.test, made);
    wrap(node.consequent, made);
    return wrap(node.alternate, made);
  }
  if (node.type === "LogicalExpression") {
    visit(node.left, made);
    return wrap(node.right, made);
  }
  for (const key of BODIES[node.type] ?? []) {
    const body = node[key];
    if (!body) continue;
    if (body.type === "BlockStatement" || body.type === "EmptyStatement") visit(body, made);
    else enclose(body, made);
  }
  for (const [key, value] of Object.entries(node)) {
    if (BODIES[node.type]?.includes(key)) continue;
    for (const child of Array.isArray(value) ? value : [value]) if (typeof child?.type === "string") visit(child, made);
  }
}

/** Statements whose body may have no braces. */
const BODIES = {
  IfStatement: ["consequent", "alternate"],
  ForStatement: ["body"],
  ForInStatement: ["body"],
  ForOfStatement: ["body"],
  WhileStatement: ["body"],
  DoWhileStatement: ["body"],
  WithStatement: ["body"],
};

function visitBlock(node, made) {
  const first = node.body.findIndex((statement) => !statement.directive);
  const directives = first === -1 ? node.body : node.body.slice(0, first);
  if (node.type !== "Program") {
    const brace = node.type === "StaticBlock" ? null : node.start + 1;
    const at = directives.at(-1)?.end ?? brace;
    // Behind a directive without a semicolon another one is needed.
    if (at !== null) made.openers.push([at, `;${mark(made, node)};`]);
  }
  visitStatements(node.body.slice(directives.length), made);
}

function visitStatements(statements, made) {
  for (const statement of statements) {
    if (statement.type !== "EmptyStatement") made.openers.push([statement.start, `${mark(made, statement)};`]);
    visit(statement, made);
  }
}

/** An expression that may be passed over. */
function wrap(node, made) {
  made.openers.push([node.start, `(${mark(made, node)},`]);
  visit(node, made);
  made.closers.push([node.end, ")"]);
}

/** A single statement in braces. */
function enclose(node, made) {
  made.openers.push([node.start, `{${mark(made, node)};`]);
  visit(node, made);
  made.closers.push([node.end, "}"]);
}

/** Inner ends come before outer ones, ends before beginnings, and outer beginnings before inner ones. */
function insert(code, { openers, closers }) {
  const all = [
    ...closers.map(([at, text], order) => ({ at, text, order: order - closers.length })),
    ...openers.map(([at, text], order) => ({ at, text, order })),
  ].sort((one, other) => one.at - other.at || one.order - other.order);
  let made = "";
  let from = 0;
  for (const { at, text } of all) {
    made += code.slice(from, at) + text;
    from = at;
  }
  return made + code.slice(from);
}

function linesOf(regions, places) {
  const lines = regions.map(() => []);
  // Outer regions come before those inside them.
  const waiting = regions
    .map(([start, end], mark) => ({ start, end, mark }))
    .sort((one, other) => one.start - other.start || other.end - one.end || one.mark - other.mark);
  const open = [];
  let next = 0;
  for (const [line, offset] of places.toSorted((one, other) => one[1] - other[1])) {
    for (; next < waiting.length && waiting[next].start <= offset; next++) {
      while (open.length > 0 && open.at(-1).end <= waiting[next].start) open.pop();
      open.push(waiting[next]);
    }
    while (open.length > 0 && open.at(-1).end <= offset) open.pop();
    if (open.length > 0) lines[open.at(-1).mark].push(line);
  }
  return lines;
}

const linesRan = ({ lines, ran }) =>
  [...new Set(lines.flatMap((marked, at) => (ran[at] ? marked : [])))].sort((one, other) => one - other);

/** Collects the marks of a driver's files, and numbers the sets of lines. */
export function createMarks() {
  const files = [];
  const paths = new Map();
  let count = 0;
  return {
    /** The marks of a file; `lines` are those of each mark. */
    of(file, lines) {
      const ran = new Uint8Array(lines.length);
      files.push({ file, lines, ran });
      return ran;
    },
    /** A file is compiled again: its earlier marks count no more, and its sets of lines have other numbers. */
    forget(file) {
      const at = files.findIndex((known) => known.file === file);
      if (at !== -1) files.splice(at, 1);
      paths.clear();
    },
    start() {
      for (const { ran } of files) ran.fill(0);
    },
    /** The lines of a file that ran since the start, ascending. */
    linesOf(name) {
      const known = files.find(({ file }) => file === name);
      return known ? linesRan(known) : [];
    },
    /** The number of the set of lines that ran since the start, and the set where it is new. */
    take() {
      let key = "";
      for (const [index, { ran }] of files.entries()) {
        key += `|${index}`;
        for (let at = ran.indexOf(1); at !== -1; at = ran.indexOf(1, at + 1)) key += `,${at}`;
      }
      const known = paths.get(key);
      if (known !== undefined) return { path: known };
      const path = count++;
      paths.set(key, path);
      const lines = {};
      for (const known of files) {
        const own = linesRan(known);
        if (own.length > 0) lines[known.file] = own;
      }
      return { path, lines };
    },
  };
}
