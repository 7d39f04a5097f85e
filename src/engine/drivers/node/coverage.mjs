/**
 * Which lines of the side's own files were run, by V8's precise block coverage through the inspector.
 */
import inspector from "node:inspector";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { linesRun, startsOf } from "./lines.mjs";

let session = null;

function post(method, parameters) {
  let answer;
  // In its own thread the inspector answers before post() returns.
  session.post(method, parameters, (error, result) => {
    if (error) throw error;
    answer = result;
  });
  return answer;
}

export const isCovering = () => session !== null;

/** Counts code compiled from here on; earlier code must be compiled again. */
export function startCoverage() {
  if (session) return;
  session = new inspector.Session();
  session.connect();
  post("Profiler.enable");
  post("Profiler.startPreciseCoverage", { callCount: true, detailed: true });
}

/**
 * File (relative to the root) → lines run since the start, ascending. `compiled` gives each file's code and source map.
 * With `isSince`, those run since the last time: V8 leaves out what did not run.
 */
export function takeCoverage(root, compiled, isSince) {
  const { result } = post("Profiler.takePreciseCoverage");
  const lines = {};
  for (const script of result) {
    const full = script.url.startsWith("file:") ? fileURLToPath(script.url) : script.url;
    const made = compiled.get(full);
    if (made?.code === undefined) continue;
    const file = path.relative(root, full).split(path.sep).join("/");
    made.placed ??= placesIn(made);
    const run = new Set([...(lines[file] ?? []), ...linesRun(script.functions, made.placed, isSince)]);
    lines[file] = [...run].sort((one, other) => one - other);
  }
  return lines;
}

const placesIn = ({ code, map }) => ({ starts: startsOf(code), code, mappings: map ? JSON.parse(map).mappings : null });
