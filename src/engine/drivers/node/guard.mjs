/**
 * Keeps ported code from writing outside its scratch folders, and restores what it wrote in its own.
 *
 * The writing functions of `node:fs` are wrapped before any module of the side is loaded; native code is left to the
 * sandbox.
 */
import fs from "node:fs";
import path from "node:path";
import { fileURLToPath } from "node:url";

/** Function → which of its arguments are paths that are written to. */
const WRITERS = {
  writeFile: [0],
  appendFile: [0],
  mkdir: [0],
  mkdtemp: [0],
  rmdir: [0],
  rm: [0],
  unlink: [0],
  truncate: [0],
  chmod: [0],
  utimes: [0],
  rename: [0, 1],
  copyFile: [1],
  cp: [1],
  link: [1],
  symlink: [1],
};

export function createGuard(root, scratch) {
  const real = (folder) => {
    try {
      return fs.realpathSync(folder);
    } catch {
      // Not there yet: its folder is what can be a link.
      return path.join(path.dirname(folder) === folder ? folder : real(path.dirname(folder)), path.basename(folder));
    }
  };
  const home = scratch ? real(scratch) : null;
  const allowed = [home, process.env.TMPDIR ? real(process.env.TMPDIR) : null].filter(Boolean);
  const isBelow = (file, folder) => file === folder || file.startsWith(folder + path.sep);
  const putBackCopy = {
    rm: fs.rmSync,
    copy: fs.copyFileSync,
    mkdir: fs.mkdirSync,
    exists: fs.existsSync,
    stat: fs.statSync,
  };
  let [active, seen, written] = [false, null, []];

  function meet(given) {
    if (!active || typeof given === "number") return;
    const named = given instanceof URL ? fileURLToPath(given) : Buffer.isBuffer(given) ? given.toString() : given;
    if (typeof named !== "string") return;
    const full = real(path.resolve(named));
    if (allowed.some((folder) => isBelow(full, folder))) written.push(full);
    else if (!full.startsWith("/dev/") && !full.startsWith("/proc/self/")) {
      seen ??= full;
      const error = new Error(`EROFS: Side Twin lets nothing be written outside the scratch folder, '${named}'`);
      throw Object.assign(error, { code: "EROFS", errno: -30, path: named });
    }
  }

  function wrap(owner, name, places) {
    const plain = owner[name];
    if (typeof plain !== "function") return;
    owner[name] = function (...given) {
      for (const place of places) meet(given[place]);
      return Reflect.apply(plain, this, given);
    };
  }

  const writes = (flags) =>
    typeof flags === "number" ? (flags & (1 | 2 | 64 | 512 | 1024)) !== 0 : /[wa+]/.test(String(flags ?? "r"));
  function wrapOpen(owner, name) {
    const plain = owner[name];
    owner[name] = function (file, flags, ...rest) {
      if (typeof flags !== "function" && writes(flags)) meet(file);
      return Reflect.apply(plain, this, [file, flags, ...rest]);
    };
  }

  for (const [name, places] of Object.entries(WRITERS)) {
    wrap(fs, name, places);
    wrap(fs, `${name}Sync`, places);
    wrap(fs.promises, name, places);
  }
  wrapOpen(fs, "open");
  wrapOpen(fs, "openSync");
  wrapOpen(fs.promises, "open");

  function putBack(file) {
    if (!home || !isBelow(file, home) || file === home) return;
    const original = path.join(root, path.relative(home, file));
    const facts = putBackCopy.stat(original, { throwIfNoEntry: false });
    if (facts?.isDirectory()) putBackCopy.mkdir(file, { recursive: true });
    else if (facts?.isFile()) {
      putBackCopy.mkdir(path.dirname(file), { recursive: true });
      putBackCopy.copy(original, file);
    } else putBackCopy.rm(file, { recursive: true, force: true });
  }

  return {
    start() {
      active = true;
    },
    /** Returns what was written outside since the start, or null; restores what was written inside. */
    finish() {
      active = false;
      const outside = seen;
      seen = null;
      if (written.length > 0) for (const file of written.splice(0)) putBack(file);
      return outside;
    },
  };
}
