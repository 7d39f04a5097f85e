/** The environment of ported code: the person's own, with a fixed time zone and locale unless the port sets others. */
import { existsSync } from "node:fs";
import path from "node:path";
import { fromAllDrivers } from "@/engine/drivers/index";
import { packageRoot } from "@/engine/package-root";

/** TZ=UTC and a C.UTF-8 locale; the tools that Side Twin brings come last on the PATH. */
export function environmentFor(own: Readonly<Record<string, string>> = {}): NodeJS.ProcessEnv {
  const {
    LC_ALL: _locale,
    LANGUAGE: _language,
    NODE_OPTIONS: _options,
    NODE_V8_COVERAGE: _coverage,
    ...inherited
  } = process.env;
  return {
    ...inherited,
    PATH: `${process.env.PATH ?? ""}${path.delimiter}${path.join(packageRoot(), "node_modules", ".bin")}`,
    TZ: "UTC",
    LANG: "C.UTF-8",
    LC_ALL: "C.UTF-8",
    ...fromAllDrivers((driver) => driver.environment),
    ...own,
  };
}

/** `npx TOOL …` as the tool itself when it is installed near the folder or with Side Twin: npx takes longer than most runs. */
export function resolveCommand(command: readonly string[], folder: string): string[] {
  const [program, tool, ...rest] = command;
  if (program !== "npx" || tool === undefined || tool.startsWith("-")) return [...command];
  for (let at = folder; ; at = path.dirname(at)) {
    const local = path.join(at, "node_modules", ".bin", tool);
    if (existsSync(local)) return [local, ...rest];
    if (path.dirname(at) === at) break;
  }
  const brought = path.join(packageRoot(), "node_modules", ".bin", tool);
  return existsSync(brought) ? [brought, ...rest] : [...command];
}
