/** The port's shapes of arguments (docs/formats.md, sections 17 and 20) on a side whose driver does not apply them itself. */

import { type ArgumentShapes, addArguments, moveOuts, readShapes } from "@/core/cases/argument-shapes";
import { bareNames } from "@/core/cases/bare-names";
import type { Order } from "@/core/cases/hand-over";
import type { SideResult } from "@/core/compare/answer";
import { SideTwinError } from "@/core/errors";
import type { PortModule } from "@/core/pairing/modules";
import { DRIVERS } from "@/engine/drivers/index";
import type { OpenPort, OpenSide } from "@/service/port/open-port";
import { readSources } from "@/service/reading/pair-port";

/** Applies shapes to orders and answers. */
export class SideShapes {
  private constructor(
    private readonly shapes: ReadonlyMap<string, ArgumentShapes>,
    private readonly isTyped: boolean,
  ) {}

  /**
   * Null if the port has no shapes, or the driver applies them. Parses the modules whose functions have shapes. Throws
   * SideTwinError `bad-input` for a shape that does not fit its function.
   */
  static async read(
    open: OpenPort,
    side: OpenSide,
    filesOf: (module: PortModule) => readonly string[],
  ): Promise<SideShapes | null> {
    const way = DRIVERS[side.language]?.shapes ?? "driver";
    if (way === "driver" || Object.keys(open.port.shapes).length === 0) return null;
    const found = new Map<string, ArgumentShapes>();
    for (const [key, given] of Object.entries(open.port.shapes)) {
      const module = open.modules
        .filter(({ name }) => key.startsWith(`${name}.`))
        .sort((left, right) => right.name.length - left.name.length)[0];
      if (!module) continue;
      const name = key.slice(module.name.length + 1);
      const sources = await readSources(side.folder, filesOf(module));
      const full = bareNames(sources).get(name) ?? name;
      const section = sources.flatMap(({ sections }) => sections).find((one) => one.name === full);
      if (!section) continue;
      try {
        const shapes = readShapes(given, section.params);
        // A case may name a method with or without its class.
        for (const one of [name, full, full.slice(full.lastIndexOf(".") + 1)])
          found.set(`${module.name}.${one}`, shapes);
      } catch (error) {
        throw new SideTwinError({
          code: "bad-input",
          what: `${name}: ${error instanceof Error ? error.message : String(error)}`,
          where: { file: "side-twin.json", key: `shapes.${key}` },
          next: `Its parameters are ${section.params.join(", ") || "none"}; the words are in docs/formats.md, section 20.`,
        });
      }
    }
    return found.size === 0 ? null : new SideShapes(found, way === "typed");
  }

  /** The order with all parameters that its functions have. */
  fill(order: Order): Order {
    if (order.kind === "call") {
      const shapes = this.of(order.module, order.names);
      return shapes ? { ...order, args: addArguments(order.args, shapes, this.isTyped) } : order;
    }
    const steps = order.steps.map((step) => {
      const shapes = this.of(order.module, step.call ?? []);
      return shapes ? { ...step, args: addArguments(step.args ?? [], shapes, this.isTyped) } : step;
    });
    return { ...order, steps };
  }

  /** The answer with outs behind the results; `order` is that of the case. */
  readBack<T extends SideResult>(answer: T, order: Order): T {
    const { result } = answer;
    if (order.kind === "call" && result.kind === "call") {
      const shapes = this.of(order.module, order.names);
      return shapes ? { ...answer, result: moveOuts(result, order.args, shapes) } : answer;
    }
    if (order.kind !== "steps" || result.kind !== "steps") return answer;
    const steps = result.steps.map((step, at) => {
      const shapes = this.of(order.module, order.steps[at]?.call ?? []);
      return shapes ? moveOuts(step, order.steps[at]?.args ?? [], shapes) : step;
    });
    return { ...answer, result: { ...result, steps } };
  }

  private of(module: string, names: readonly string[]): ArgumentShapes | undefined {
    return names.map((name) => this.shapes.get(`${module}.${name}`)).find((shapes) => shapes !== undefined);
  }
}
