/** Leaves a module out of a port, with the reason, or takes it in again. */
import { SideTwinError } from "@/core/errors";
import type { PortFile } from "@/core/formats/port-file";
import { resolveModules } from "@/core/pairing/modules";
import { editPortFile } from "@/service/port/edit-port-file";
import type { OpenPort } from "@/service/port/open-port";

/** Whether a module would be the same without its entry in the port file. */
function isAsFound({ original, twins, modules }: OpenPort, port: PortFile, name: string): boolean {
  const [listed, now] = [
    port.modules.find((entry) => entry.name === name),
    modules.find((entry) => entry.name === name),
  ];
  if (!listed || Object.keys(listed.twins).length > 0) return false;
  const tree = { original: original.files, twins: Object.fromEntries(twins.map((twin) => [twin.name, twin.files])) };
  const rest = { ...port, modules: port.modules.filter((entry) => entry !== listed) };
  const found = resolveModules(rest, tree).find((entry) => entry.name === name);
  return JSON.stringify([found?.original, found?.twins]) === JSON.stringify([now?.original, now?.twins]);
}

/** A null `reason` takes it in again. Throws SideTwinError for a module that is not there, or an empty reason. */
export async function leaveOut(
  open: OpenPort,
  { module, reason }: { readonly module: string; readonly reason: string | null },
): Promise<void> {
  const found = open.modules.find(({ name }) => name === module);
  if (!found) {
    throw new SideTwinError({
      code: "not-found",
      what: `There is no module "${module}"`,
      next: "Name a module of the port.",
    });
  }
  if (reason !== null && reason.trim() === "") {
    throw new SideTwinError({
      code: "bad-input",
      what: "A module is left out for a reason",
      next: "Say why nobody needs it in the twin.",
    });
  }
  const leftOut = reason?.trim();
  await editPortFile(open.file, (port) => {
    const place = port.modules.findIndex(({ name }) => name === module);
    if (place === -1) {
      const value = { name: module, original: found.original, leftOut };
      return reason === null ? [] : [{ path: ["modules", -1], value, insert: true }];
    }
    // An entry whose only purpose was to leave the module out goes.
    if (reason === null && isAsFound(open, port, module)) return [{ path: ["modules", place], value: undefined }];
    return [{ path: ["modules", place, "leftOut"], value: leftOut }];
  });
}
