/**
 * Fingerprints of everything that determines a side's answers: the text of a module's files and their imports, the
 * runtime, and the port's settings for the side. Answers are reused only while the fingerprint is unchanged.
 */
import { createHash } from "node:crypto";
import { statSync } from "node:fs";
import path from "node:path";
import type { PortFile } from "@/core/formats/port-file";
import { languageOf } from "@/core/source/language-of";
import { findLanguage } from "@/core/source/languages/index";
import { furtherReach, type Reach, reachOfModule, reachOfText } from "@/core/source/outside-world";
import { readText } from "@/engine/files/text";
import { parseSource } from "@/engine/source/parse";
import type { OpenSide } from "@/service/port/open-port";
import { readVersion } from "@/service/port/version";

type FileFacts = { readonly hash: string; readonly needs: readonly string[]; readonly reach: Reach };

/**
 * Keys that cannot affect answers. All others are part of the fingerprint, so that a new key invalidates cached answers
 * by default.
 */
const NO_PART_OF_A_SIDE = ["files", "ignore", "name", "prepareNetwork", "root"];
const NO_PART_OF_A_PORT = [
  "allowances",
  "cases",
  "equality",
  "format",
  "hookups",
  "kinds",
  "memory",
  "moduleMap",
  "modules",
  "modulesBy",
  "name",
  "names",
  "original",
  "pairs",
  "pins",
  "snags",
  "twins",
  "version",
];

const without = (record: object, keys: readonly string[]): object =>
  Object.fromEntries(
    Object.entries(record)
      .filter(([key, value]) => value !== undefined && !keys.includes(key))
      .sort(([one], [other]) => (one < other ? -1 : 1)),
  );

/** Fingerprints of the modules of a port. */
export class CodeStamps {
  private readonly facts = new Map<string, Promise<FileFacts | null>>();
  private readonly present: ReadonlySet<string>;
  private readonly base: string;

  /** `runtime` is the command that runs the side's code. */
  constructor(
    private readonly side: OpenSide,
    port: PortFile,
    runtime: readonly string[],
  ) {
    this.present = new Set(side.files);
    const program = runtime[0] ?? "";
    const facts = path.isAbsolute(program) ? statSync(program, { throwIfNoEntry: false }) : undefined;
    const tool = [...runtime, facts?.size, facts?.mtimeMs];
    this.base = JSON.stringify([
      readVersion(),
      without(side, NO_PART_OF_A_SIDE),
      without(port, NO_PART_OF_A_PORT),
      tool,
    ]);
  }

  /** Null when the answers can rest on more than the code: on files, the clock, chance, or code that is not read here. */
  async ofModule(files: readonly string[]): Promise<string | null> {
    const { parts, reach } = await this.closure(files);
    return reach === "nothing" ? this.stamp(parts) : null;
  }

  /** The same for one check that is taken up again: whatever its answers rest on, they were given in this check. */
  async ofModuleIn(check: string, files: readonly string[]): Promise<string> {
    const { parts } = await this.closure(files);
    return this.stamp([check, ...parts]);
  }

  /** A module's files and all they import, each with its hash. */
  private async closure(files: readonly string[]): Promise<{ parts: string[]; reach: Reach }> {
    let reach: Reach = "nothing";
    const met = new Set<string>();
    const queue = [...files];
    const parts: string[] = [];
    for (let file = queue.pop(); file !== undefined; file = queue.pop()) {
      if (met.has(file)) continue;
      met.add(file);
      const facts = await this.factsOf(file);
      reach = furtherReach(reach, facts?.reach ?? "anything");
      parts.push(`${file}:${facts?.hash}`);
      queue.push(...(facts?.needs ?? []));
    }
    return { parts: parts.sort(), reach };
  }

  /** For programs, which may read any file of their folder: the whole side. Null when one rests on still more. */
  async ofSide(): Promise<string | null> {
    const parts: string[] = [];
    for (const file of [...this.side.files].sort()) {
      const facts = statSync(path.join(this.side.folder, file), { throwIfNoEntry: false });
      parts.push(`${file}:${facts?.size}:${facts?.mtimeMs}`);
      const name = languageOf(file);
      if (name !== null && findLanguage(name) && (await this.factsOf(file))?.reach === "anything") return null;
    }
    return this.stamp(parts);
  }

  private stamp(parts: readonly string[]): string {
    return createHash("sha256").update(this.base).update(parts.join("\n")).digest("hex").slice(0, 24);
  }

  private factsOf(file: string): Promise<FileFacts | null> {
    const known = this.facts.get(file) ?? this.readFacts(file);
    this.facts.set(file, known);
    return known;
  }

  private async readFacts(file: string): Promise<FileFacts | null> {
    const name = languageOf(file);
    const language = name === null ? null : findLanguage(name);
    if (!name || !language) return null;
    const text = await readText(path.join(this.side.folder, file)).catch(() => null);
    if (text === null) return null;
    const hash = createHash("sha256").update(text).digest("hex");
    const needs: string[] = [];
    let reach = reachOfText(name, text);
    for (const written of (await parseSource(text, name)).imports) {
      // An import names a module and, for some languages, modules within it: all that are there count.
      const own = language.importCandidates(written, file).filter((candidate) => this.present.has(candidate));
      needs.push(...own, ...packagesAbove(own, this.present));
      if (own.length === 0) reach = furtherReach(reach, reachOfModule(name, written.specifier));
    }
    return { hash, needs, reach };
  }
}

/** A package's own file runs before any module in it. */
function packagesAbove(files: readonly string[], present: ReadonlySet<string>): string[] {
  return files.flatMap((file) => {
    const parts = file.split("/").slice(0, -1);
    return parts
      .map((_part, index) => [...parts.slice(0, index + 1), "__init__.py"].join("/"))
      .filter((name) => present.has(name));
  });
}
