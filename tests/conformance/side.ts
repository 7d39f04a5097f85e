/** One side of a port, called directly: what its driver answers. */
import type { Json } from "@/core/formats/json";
import type { Lines } from "@/engine/drivers/driver";
import { executableLines } from "@/service/check/executable-lines";
import { SideAnswers } from "@/service/check/side-answers";
import { openPort } from "@/service/port/open-port";
import { portFile, temporaryFolder } from "@/testing/temporary-port";

type Feed = Parameters<SideAnswers["feed"]>;

/** What a driver made of a case: only the members that its kind has. */
export type SideAnswer = {
  readonly kind: string;
  readonly why?: string;
  readonly what?: string;
  readonly lastOutput?: string;
  readonly value?: Json;
  readonly thrown?: { readonly kind: string; readonly message: string };
  readonly args: Json[];
  readonly printed: string;
  readonly leaks?: { readonly blocks: number };
  readonly errno?: number;
  readonly steps: { readonly value?: Json; readonly thrown?: { readonly kind: string; readonly message: string } }[];
};

/** A step as a case has it. */
export type SideStep = { readonly [key: string]: unknown };

/** A side that is started: close it in the end. */
export type StartedSide = {
  readonly folder: string;
  readonly call: (name: string, ...args: readonly Json[]) => Promise<SideAnswer>;
  readonly callIn: (module: string, name: string, ...args: readonly Json[]) => Promise<SideAnswer>;
  readonly steps: (steps: readonly SideStep[]) => Promise<SideAnswer>;
  /** The lines that the last case ran; null where they were not told. */
  readonly lines: () => Lines | null;
  readonly executable: (file: string) => Promise<readonly number[]>;
  readonly close: () => void;
};

/** Starts the driver of a language on source files; each file is a module, named without folder and ending. */
export async function startSide(
  language: string,
  files: Readonly<Record<string, string>>,
  more: {
    readonly lines?: boolean;
    readonly call?: object;
    readonly port?: object;
    readonly modules?: readonly { readonly name: string; readonly original: readonly string[] }[];
  } = {},
): Promise<StartedSide> {
  const names = Object.keys(files);
  const modules = more.modules ?? names.map((file) => ({ name: moduleOf(file), original: [file] }));
  const folder = temporaryFolder({
    "side-twin.json": portFile({
      original: { root: "original", language, ...(more.call ? { call: more.call } : {}) },
      modules,
      ...more.port,
    }),
    ...Object.fromEntries(Object.entries(files).map(([file, text]) => [`original/${file}`, text])),
    "twin/keep.txt": "",
  });
  const open = await openPort(folder);
  const side = new SideAnswers({
    open,
    side: open.original,
    name: "original",
    jobs: 1,
    answersFolder: null,
    resume: null,
    fresh: true,
    lines: more.lines ?? false,
    onVersion: () => undefined,
  });
  await side.drivers();
  let lines: Lines | null = null;
  const ask = async (item: Feed[0][number], order: Feed[1]["order"]): Promise<SideAnswer> => {
    let found: unknown;
    lines = null;
    await side.feed([item], {
      order,
      files: (module) => module.original,
      arrived: (_index, { result, lines: ran }) => {
        found = result;
        lines = ran ?? null;
      },
    });
    return found as SideAnswer; // an answer of any kind
  };
  const callIn: StartedSide["callIn"] = (module, name, ...args) =>
    ask({ id: "c", module, call: name, args: [...args], kwargs: {} }, () => ({
      kind: "call",
      module,
      names: [name],
      args,
      kwargs: {},
    }));
  const first = modules[0]?.name ?? "";
  return {
    folder,
    callIn,
    call: (name, ...args) => callIn(first, name, ...args),
    steps: (steps) => {
      const order = steps.map((step) =>
        Object.fromEntries(
          Object.entries(step).map(([key, value]) => [key, /^(new|call|get|set)$/.test(key) ? [value] : value]),
        ),
      );
      return ask({ id: "s", module: first, steps: steps as never }, () => ({
        kind: "steps",
        module: first,
        steps: order as never,
      }));
    },
    lines: () => lines,
    executable: async (file) => (await executableLines(side, [file])).get(file)?.lines ?? [],
    close: () => side.close(),
  };
}

const moduleOf = (file: string): string => (file.split("/").at(-1) ?? file).replace(/\.\w+$/, "");
