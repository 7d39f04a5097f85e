/** The settings of a port for a screen: values of the port file, each read and written as JSON in its place. */
import path from "node:path";
import type { SettingsView, SettingView } from "@/api/views";
import { SideTwinError } from "@/core/errors";
import type { PortFile } from "@/core/formats/port-file";
import { editPortFile } from "@/service/port/edit-port-file";
import type { OpenPort } from "@/service/port/open-port";

type Setting = Pick<SettingView, "title" | "help"> & { readonly key: string };

const OF_SIDE: readonly Setting[] = [
  { key: "root", title: "Folder", help: "relative to the port file" },
  { key: "run", title: "Starts with", help: "the command of its program, as a list of words" },
  { key: "prepare", title: "Built by", help: "commands in their order, each a list of words" },
  { key: "ignore", title: "Ignored files", help: "patterns of files that are not part of it" },
  { key: "env", title: "Environment", help: "variables for its program and its build" },
  { key: "call", title: "How it is called", help: "runtime, compiler, flags, include, sources, link, classPath" },
];

const OF_PORT: readonly Setting[] = [
  { key: "name", title: "Name", help: "as it is listed under Ports" },
  { key: "names", title: "Names", help: "how functions and keys are spelled in the twin" },
  { key: "modulesBy", title: "Modules", help: '"file" or "folder": what makes a module where none are listed' },
  { key: "moduleMap", title: "Where twins are", help: "rules from files of the original to files of the twin" },
  { key: "hookups", title: "Hookups", help: "how arguments and results of changed signatures are handed over" },
  { key: "cases", title: "Case files", help: "patterns, relative to the port file" },
  { key: "equality", title: "What is equal", help: 'for instance {"tupleList": "strict"}' },
  { key: "limits", title: "Limits", help: "timeMs, memoryMb, outputKb and processes of a case" },
  { key: "state", title: "State between cases", help: '"fresh" or "kept"' },
  { key: "now", title: "Fixed clock", help: "a moment with its offset; none is the real clock" },
  { key: "seed", title: "Fixed seed", help: "of random numbers; none is no seed" },
  { key: "ladder", title: "Ladder", help: "rungs, lowest first" },
  { key: "stopAt", title: "Stops at", help: "the rung where this port is done" },
];

/** All settings in the order of the screen. `text` is null where the port file has no value and the default holds. */
export function settingsView({ port, file }: OpenPort): SettingsView {
  const setting = ({ key, ...words }: Setting, at: readonly (string | number)[], home: object, group: string) => {
    const value = (home as Readonly<Record<string, unknown>>)[key];
    return { ...words, path: [...at, key], group, text: value === undefined ? null : JSON.stringify(value) };
  };
  const { twins, original } = port;
  return {
    name: port.name,
    file,
    settings: [
      ...OF_PORT.map((entry) => setting(entry, [], port, "The port")),
      ...OF_SIDE.map((entry) => setting(entry, ["original"], original, "The original")),
      ...twins.flatMap((twin, index) =>
        OF_SIDE.map((entry) => setting(entry, ["twins", index], twin, `The twin ${twin.name}`)),
      ),
    ],
  };
}

/**
 * Writes one setting; an empty text takes it out, so that its default holds. Throws SideTwinError `bad-input` with the key for a text that
 * is not JSON, a value that does not fit, or a setting that is none of the screen's.
 */
export async function changeSetting(
  open: OpenPort,
  { path: at, text }: { readonly path: readonly (string | number)[]; readonly text: string },
): Promise<void> {
  const known = settingsView(open).settings.some((entry) => entry.path.join(".") === at.join("."));
  if (!known) {
    throw new SideTwinError({
      code: "bad-input",
      what: `There is no setting "${at.join(".")}"`,
      next: `Change it in ${path.basename(open.file)}.`,
    });
  }
  const value = text.trim() === "" ? undefined : parse(text, at.join("."));
  await editPortFile(open.file, (_port: PortFile) => [{ path: [...at], value }]);
}

function parse(text: string, key: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new SideTwinError({
      code: "bad-input",
      what: `This is not JSON: ${error instanceof Error ? error.message : error}`,
      where: { key },
      next: "Put texts into double quotes and separate items by commas; nothing was changed.",
    });
  }
}
