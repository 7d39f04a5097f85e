/** Browsing for a port on this machine, confined to one folder and what lies below it. */
import { readdir, realpath, stat } from "node:fs/promises";
import path from "node:path";
import type { FolderView } from "@/api/views";
import { SideTwinError } from "@/core/errors";
import { PORT_FILE } from "@/service/port/open-port";

/** Lists folders below the one that the server was started for. */
export class FolderBrowser {
  constructor(private readonly top: string) {}

  /** Sub-folders by name; hidden ones and node_modules are left out. Throws SideTwinError. */
  async list(given: string | null): Promise<FolderView> {
    const folder = await this.confine(given ?? this.top);
    const entries = await readdir(folder, { withFileTypes: true }).catch((cause) => {
      throw new SideTwinError(
        {
          code: "not-readable",
          what: `The folder ${folder} cannot be read: ${cause.message}`,
          next: "Choose another.",
        },
        cause,
      );
    });
    const names = entries
      .filter((entry) => entry.isDirectory() && !entry.name.startsWith(".") && entry.name !== "node_modules")
      .map((entry) => entry.name)
      .sort((one, other) => one.localeCompare(other, "en"));
    const top = await realpath(this.top);
    return {
      folder,
      top,
      parent: folder === top ? null : path.dirname(folder),
      hasPort: await hasPort(folder),
      isRepository: await isRepository(folder),
      entries: await Promise.all(
        names.map(async (name) => ({ name, hasPort: await hasPort(path.join(folder, name)) })),
      ),
    };
  }

  /** The folder with its links resolved. Throws SideTwinError `outside-folder` when it lies outside. */
  async confine(folder: string): Promise<string> {
    const top = await realpath(this.top);
    const real = await realpath(folder).catch(() => {
      throw new SideTwinError({ code: "not-found", what: `There is no folder ${folder}`, next: "Choose another." });
    });
    if (real !== top && !real.startsWith(top === path.sep ? top : top + path.sep)) {
      throw new SideTwinError({
        code: "outside-folder",
        what: `${folder} lies outside ${top}`,
        next: "Start Side Twin with --browse FOLDER to choose from there.",
      });
    }
    return real;
  }
}

const hasPort = async (folder: string): Promise<boolean> =>
  (await stat(path.join(folder, PORT_FILE)).catch(() => null))?.isFile() ?? false;

/** `.git` is a file in a work tree of another repository; a bare one has its parts right in it. */
const isRepository = async (folder: string): Promise<boolean> => {
  const has = async (name: string) => (await stat(path.join(folder, name)).catch(() => null)) !== null;
  return (await has(".git")) || ((await has("HEAD")) && (await has("objects")) && (await has("refs")));
};
