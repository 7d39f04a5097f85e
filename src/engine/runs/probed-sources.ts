/** Puts probes into the sources of a program's copy, and reads which of them a run reached. */
import { mkdir, readFile, rm, writeFile } from "node:fs/promises";
import path from "node:path";
import type { Driver, Lines, ProgramProbes } from "@/engine/drivers/driver";
import { loadParser, probeSource } from "@/engine/source/parse";

type Place = { readonly file: string; readonly line: number };

/** The sources of a copy with probes, of which some may be put back as they were. */
export class ProbedSources {
  private readonly written = new Set<string>();
  private isMoved = false;

  private constructor(
    private readonly folder: string,
    private readonly probes: ProgramProbes,
    private readonly texts: Map<string, { readonly plain: string; readonly probed: string }>,
    private readonly places: readonly Place[],
  ) {}

  /** `files` are relative to the folder of the copy. Null where none of them can have probes. */
  static async make(
    folder: string,
    terms: { readonly files: readonly string[]; readonly language: string; readonly probes: ProgramProbes },
  ): Promise<ProbedSources | null> {
    const { language, probes } = terms;
    const parse = await loadParser([language]);
    const places: Place[] = [];
    const texts = new Map<string, { plain: string; probed: string }>();
    for (const file of terms.files.filter(probes.isSource)) {
      const plain = await readFile(path.join(folder, file), "utf8").catch(() => null);
      const tree = plain === null ? null : parse(plain, language);
      if (plain === null || !tree) continue;
      const first = places.length;
      const made = probeSource(tree.root, plain, language, (index) => probes.call(first + index));
      tree.free();
      if (!made || made.lines.length === 0) continue;
      for (const line of made.lines) places.push({ file, line });
      texts.set(file, { plain, probed: made.text });
    }
    return texts.size === 0 ? null : new ProbedSources(folder, probes, texts, places);
  }

  /** Writes the files with probes, and what they need. */
  async write(): Promise<void> {
    for (const file of this.written) await rm(path.join(this.folder, file), { force: true });
    this.written.clear();
    const probed = new Map([...this.texts].map(([file, text]) => [file, text.probed]));
    for (const [file, text] of this.probes.complete(probed, { count: this.places.length, isMoved: this.isMoved })) {
      const full = path.join(this.folder, file);
      await mkdir(path.dirname(full), { recursive: true });
      await writeFile(full, text);
      if (!this.texts.has(file)) this.written.add(file);
    }
  }

  /**
   * After a build that failed: puts what the probes need elsewhere, or takes them out of the files that its output names.
   * Returns whether another build is worth a try.
   */
  async revise(printed: string): Promise<boolean> {
    if (!this.isMoved && this.probes.isMissed?.(printed)) {
      this.isMoved = true;
      return true;
    }
    const named = [...this.texts].filter(
      ([file]) => printed.includes(file) || printed.includes(`${path.basename(file)}:`),
    );
    for (const [file, { plain }] of named) {
      this.texts.delete(file);
      await writeFile(path.join(this.folder, file), plain);
    }
    return named.length > 0 && this.texts.size > 0;
  }

  /** How a run of the built copy is traced; `home` is the `drivers/` folder. */
  tracing(home: string): NonNullable<Driver["tracing"]> {
    return {
      canTrace: () => true,
      start: (command, { out }) => ({
        command,
        environment: { SIDE_TWIN_PROBES: out, ...this.probes.environment?.(home) },
      }),
      read: async (out) => {
        const bytes = await readFile(out).catch(() => Buffer.alloc(0));
        await rm(out, { force: true });
        return this.linesOf(bytes);
      },
    };
  }

  /** A line counts where any of its statements was reached. */
  private linesOf(bytes: Buffer): Lines {
    const found = new Map<string, Set<number>>();
    for (const [probe, { file, line }] of this.places.entries()) {
      if (!bytes[probe]) continue;
      const known = found.get(file) ?? new Set();
      found.set(file, known.add(line));
    }
    return Object.fromEntries([...found].map(([file, lines]) => [file, [...lines].sort((a, b) => a - b)]));
  }
}
