/** The hookup that hands a callback to a twin that takes one, in the port file. */
import { editPortFile } from "@/service/port/edit-port-file";
import type { OpenPort } from "@/service/port/open-port";

/** Which section of the original is meant, for which twin, and whether its twin is handed a callback. */
export type CallbackChoice = {
  readonly module: string;
  readonly section: string;
  readonly twin: string;
  readonly isHanded: boolean;
};

/** Sets or removes `"callback": "last"`; a hookup without other settings is removed with it. Throws SideTwinError as the port file's edits do. */
export async function handCallback(open: OpenPort, { module, section, twin, isHanded }: CallbackChoice): Promise<void> {
  const original = `${module}.${section}`;
  await editPortFile(open.file, ({ hookups, twins }) => {
    const own = (on: string | undefined) =>
      hookups.findIndex((hookup) => hookup.original === original && hookup.on === on);
    const at = own(twin) === -1 ? own(undefined) : own(twin);
    const hookup = hookups[at];
    if (!hookup) {
      const value = { original, ...(twins.length === 1 ? {} : { on: twin }), callback: "last" };
      return isHanded ? [{ path: ["hookups", -1], value, insert: true }] : [];
    }
    const { original: _of, on: _on, callback: _callback, ...rest } = hookup;
    if (!isHanded && Object.keys(rest).length === 0) return [{ path: ["hookups", at], value: undefined }];
    return [{ path: ["hookups", at, "callback"], value: isHanded ? "last" : undefined }];
  });
}
