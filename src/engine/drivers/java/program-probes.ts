import path from "node:path";
import type { ProgramProbes } from "@/engine/drivers/driver";

/** A class of its own: below the folder that the sources' packages start from, or else where a plain `javac` looks. */
export const javaProbes: ProgramProbes = {
  isSource: (file) => file.endsWith(".java") && !/(^|\/)(module|package)-info\.java$/.test(file),
  call: (probe) => `sidetwinprobes.Probes.hit(${probe});`,
  isMissed: (printed) => /package sidetwinprobes does not exist/.test(printed),
  complete: (files, { count, isMoved }) => {
    const roots = [...files].map(([file, text]) => sourceRoot(file, text));
    const root = isMoved ? "" : (roots.find((found) => found !== null) ?? "");
    return new Map([...files, [path.posix.join(root, "sidetwinprobes/Probes.java"), support(count)]]);
  },
};

/** Null if a file's folder does not match its package. */
function sourceRoot(file: string, text: string): string | null {
  const folder = path.posix.dirname(file);
  const inside = /^\s*package\s+([\w.]+)\s*;/m.exec(text)?.[1]?.replaceAll(".", "/");
  if (inside === undefined) return folder;
  if (folder === inside) return "";
  return folder.endsWith(`/${inside}`) ? folder.slice(0, -inside.length - 1) : null;
}

const support = (count: number): string => `package sidetwinprobes;

public final class Probes {
  private static final boolean[] SEEN = new boolean[${count}];
  private static final java.io.RandomAccessFile FILE = open();

  private Probes() {}

  private static java.io.RandomAccessFile open() {
    String name = System.getenv("SIDE_TWIN_PROBES");
    try {
      return name == null ? null : new java.io.RandomAccessFile(name, "rw");
    } catch (java.io.IOException error) {
      return null;
    }
  }

  public static void hit(int probe) {
    if (SEEN[probe] || FILE == null) return;
    SEEN[probe] = true;
    synchronized (FILE) {
      try {
        FILE.seek(probe);
        FILE.write(1);
      } catch (java.io.IOException error) {
        // The line stays unproven.
      }
    }
  }
}
`;
