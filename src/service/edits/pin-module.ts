/** Notes in the port file that a module is wanted soon, or no longer. */
import { SideTwinError } from "@/core/errors";
import { editPortFile } from "@/service/port/edit-port-file";
import type { OpenPort } from "@/service/port/open-port";

/** Throws SideTwinError `not-found` for a module that the port does not have. */
export async function pinModule(
  open: OpenPort,
  { module, pinned }: { module: string; pinned: boolean },
): Promise<void> {
  if (!open.modules.some(({ name }) => name === module)) {
    throw new SideTwinError({
      code: "not-found",
      what: `There is no module "${module}"`,
      next: "Name a module of the port.",
    });
  }
  await editPortFile(open.file, ({ pins }) => {
    const place = pins.indexOf(module);
    if (pinned === (place !== -1)) return [];
    return [pinned ? { path: ["pins", -1], value: module, insert: true } : { path: ["pins", place], value: undefined }];
  });
}
