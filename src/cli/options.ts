/** Options that several commands share. */
import { setMaxListeners } from "node:events";
import { homedir } from "node:os";
import path from "node:path";
import type { Command } from "commander";

/** The argument that names a port. */
export const withPort = (command: Command): Command =>
  command.argument("<file>", "the port file, or a folder with a side-twin.json");

/** Where answers and snapshots are kept. */
export const withData = (command: Command): Command =>
  command.option("--data <dir>", "where answers and snapshots are kept", path.join(homedir(), ".side-twin"));

/** JSON on stdout and nothing else. */
export const withJson = (command: Command): Command =>
  command.option("--json", "print the result as JSON, and nothing else, on stdout");

/** Writes JSON on a line, or text for people. */
export const print = (isJson: boolean | undefined, json: unknown, text: () => string): void => {
  process.stdout.write(isJson ? `${JSON.stringify(json)}\n` : text());
};

/** A signal that the first interrupt aborts. */
export function stopOnInterrupt(): AbortSignal {
  const stop = new AbortController();
  // Each driver listens to it.
  setMaxListeners(0, stop.signal);
  process.once("SIGINT", () => stop.abort());
  return stop.signal;
}

/** Steps shown on a terminal's stderr; silent elsewhere. */
export const showStep = (words: string): void => {
  if (process.stderr.isTTY) process.stderr.write(`${words} …\n`);
};
