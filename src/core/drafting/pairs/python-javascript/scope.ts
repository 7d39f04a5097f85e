/** The names in scope with their kinds, and the parts left to a person. */
import type { Node } from "web-tree-sitter";
import { heldBy, INT, join, type Kind, UNKNOWN } from "@/core/drafting/kinds";
import type { PairInput } from "@/core/drafting/pair";
import { childrenOf } from "@/core/source/section";

/** A function, method or class of the file. */
export type Callable = {
  readonly params: readonly string[];
  readonly returns: Kind;
  /** By an annotation. */
  readonly isPromised: boolean;
  readonly isClass: boolean;
};

/** Facts on the whole file; a second pass starts from those of the first. */
export type Facts = {
  readonly callables: Map<string, Callable>;
  /** `Class.attribute`. */
  readonly attributes: Map<string, Kind>;
  readonly constants: Map<string, Kind>;
  /** Local name → what it is imported as, or the module it names. */
  readonly imported: Map<string, { readonly isModule: boolean }>;
};

type Left = {
  readonly from: number;
  readonly to: number;
  readonly line: number;
  readonly text: string;
  readonly why: string;
};

const RESERVED = new Set(
  "Math Object Array String Number Error new default function var delete switch case this typeof void export const let enum null true false catch throw do extends super interface package private protected public static arguments eval instanceof".split(
    " ",
  ),
);

export class Scope {
  private locals: Map<string, Kind>[] = [];
  private readonly left: Left[] = [];
  className: string | null = null;
  /** Kinds of what the function at hand gives back. */
  returned: Kind | undefined;

  constructor(
    readonly input: PairInput,
    readonly facts: Facts,
    private readonly lines: readonly string[],
  ) {}

  spell(name: string): string {
    const spelled = this.input.spell(name);
    return RESERVED.has(spelled) ? `${spelled}_` : spelled;
  }

  key(name: string): string {
    return this.input.key(name);
  }

  knows(name: string): boolean {
    return (
      this.locals.some((names) => names.has(name)) ||
      this.facts.constants.has(name) ||
      this.facts.callables.has(name) ||
      (this.facts.imported.has(name) && !this.facts.imported.get(name)?.isModule)
    );
  }

  kind(name: string): Kind {
    for (const names of this.locals.toReversed()) if (names.has(name)) return names.get(name) ?? UNKNOWN;
    return this.facts.constants.get(name) ?? UNKNOWN;
  }

  isLocal(name: string): boolean {
    return this.locals.some((names) => names.has(name));
  }

  callable(name: string): Callable | undefined {
    return this.isLocal(name) ? undefined : this.facts.callables.get(name);
  }

  attribute(name: string): Kind {
    const key = `${this.className}.${name}`;
    // A property is read as an attribute is.
    return this.facts.attributes.get(key) ?? this.facts.callables.get(key)?.returns ?? UNKNOWN;
  }

  isImported(name: string): boolean {
    return !this.isLocal(name) && this.facts.imported.get(name)?.isModule === false;
  }

  /** Whether a name is a module of the language's own library. */
  isModule(name: string): boolean {
    return !this.isLocal(name) && this.facts.imported.get(name)?.isModule === true;
  }

  /** A function of a module of the port that is imported as a whole. */
  moduleMember(module: string, name: string): string | null {
    if (!this.isModule(module) || this.input.importOf(module, null) === null) return null;
    return `${this.spell(module)}.${this.spell(name)}`;
  }

  help(name: string, args: readonly string[], kind: Kind, before = ""): { code: string; kind: Kind; rank: 0 } {
    return { code: `${before}${name}(${args.join(", ")})`, kind, rank: 0 };
  }

  /** Records an untranslatable part and drops the records inside it. */
  leave(node: Node, why: string): void {
    const line = node.startPosition.row + 1;
    const { startIndex: from, endIndex: to } = node;
    for (let at = this.left.length - 1; at >= 0; at--) {
      const other = this.left[at];
      if (other && from <= other.from && other.to <= to) this.left.splice(at, 1);
    }
    this.left.push({ from, to, line, text: (this.lines[line - 1] ?? "").trim(), why });
  }

  /** Works for the kinds that are learned, without notes. */
  tentatively(work: () => void): void {
    const before = [...this.left];
    work();
    this.left.splice(0, this.left.length, ...before);
  }

  /** The places left so far. */
  get unsaid(): readonly Left[] {
    return this.left;
  }

  /** Works with names of its own. */
  within<T>(work: () => T): T {
    this.locals.push(new Map());
    try {
      return work();
    } finally {
      this.locals.pop();
    }
  }

  declare(name: string, kind: Kind): void {
    this.locals.at(-1)?.set(name, kind);
  }

  /** A variable of the function takes a value: its kind is that of all its values. True where it is new. */
  assign(name: string, kind: Kind): boolean {
    for (const names of this.locals.toReversed()) {
      if (!names.has(name)) continue;
      names.set(name, join(names.get(name), kind));
      return false;
    }
    this.declare(name, kind);
    return true;
  }

  /** Declares the names of a loop, `isNew` where they are local to it; returns the JavaScript text, or null where unsupported. */
  declareTarget(node: Node, kind: Kind, isNew: boolean): string | null {
    const take = (name: string, own: Kind) => (isNew ? this.declare(name, own) : this.assign(name, own));
    if (node.type === "identifier") {
      take(node.text, kind);
      return this.spell(node.text);
    }
    if (!/^(pattern_list|tuple_pattern)$/.test(node.type)) return null;
    const parts = childrenOf(node);
    if (parts.some(({ type }) => type !== "identifier")) return null;
    const isCounted = kind.name === "counted";
    for (const [index, part] of parts.entries())
      take(part.text, isCounted ? (index === 0 ? INT : heldBy(kind)) : (kind.parts?.[index] ?? heldBy(kind)));
    return `[${parts.map(({ text }) => this.spell(text)).join(", ")}]`;
  }
}
