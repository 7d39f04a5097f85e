/** A pair made by hand, saved in the port file: two sections are one, one is dropped or new, or back to automatic. */
import { SideTwinError } from "@/core/errors";
import { editPortFile } from "@/service/port/edit-port-file";
import type { OpenPort } from "@/service/port/open-port";

/** A pair made by hand. */
export type ManualPair = {
  readonly module: string;
  /** The twin that the pair is for. */
  readonly on: string;
  /** Section of the original; null if the twin's is new. */
  readonly original: string | null;
  /** Section of the twin; null if the original's is dropped. */
  readonly twin: string | null;
  readonly note: string;
  /** Removes the pair of these sections. */
  readonly forget?: boolean;
};

/** Throws SideTwinError `not-found` for a module or a twin that the port does not have. */
export async function pairByHand(open: OpenPort, pair: ManualPair): Promise<void> {
  const { module, on, note, forget = false } = pair;
  if (!open.modules.some(({ name }) => name === module)) {
    throw new SideTwinError({
      code: "not-found",
      what: `There is no module "${module}"`,
      next: "Name a module of the port.",
    });
  }
  if (!open.port.twins.some(({ name }) => name === on)) {
    throw new SideTwinError({ code: "not-found", what: `There is no twin "${on}"`, next: "Name a twin of the port." });
  }
  const full = (name: string | null) => (name === null ? null : `${module}.${name}`);
  const [original, twin] = [full(pair.original), full(pair.twin)];
  // Earlier pairs of either section no longer apply.
  const isOld = (entry: OpenPort["port"]["pairs"][number]) =>
    (entry.on === undefined || entry.on === on) &&
    ((original !== null && entry.original === original) || (twin !== null && entry.twin === twin));
  const single = open.port.twins.length === 1;
  const value = { original, twin, ...(single ? {} : { on }), ...(note.trim() === "" ? {} : { note: note.trim() }) };
  await editPortFile(open.file, ({ pairs }) => {
    const gone = pairs.flatMap((entry, index) => (isOld(entry) ? [index] : []));
    return [
      ...gone.reverse().map((index) => ({ path: ["pairs", index], value: undefined })),
      ...(forget ? [] : [{ path: ["pairs", -1], value, insert: true }]),
    ];
  });
}
