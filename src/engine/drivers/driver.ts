/**
 * All that the engine knows of a language that it can run. To add one is a folder in `drivers/` with such a record and the
 * driver's program, and a line in `drivers/index.ts`; `driver.contract.test.ts` walks the registry.
 */
/** File → lines run, ascending. */
export type Lines = { readonly [file: string]: readonly number[] };

/** A fixed clock (ISO 8601) and a seed of random numbers; undefined where it is not fixed. */
export type FixedTerms = { readonly now: string | undefined; readonly seed: number | undefined };

/** How a program's clock and random numbers are fixed: by a file that its runtime loads, or by replacing the C library's functions. */
export type ProgramFix =
  | {
      readonly by: "runtime";
      /** Environment variables of the run; `home` is the `drivers/` folder. */
      readonly environment: (home: string, terms: FixedTerms) => Readonly<Record<string, string>>;
    }
  | {
      /** Preloads `c/fixed_run.c`, which needs Linux and a C compiler. */
      readonly by: "library";
      /** Whether the runtime takes its random numbers from the C library. */
      readonly canSeed: boolean;
      /** Whether the driver itself needs it too, to fix the clock of calls. */
      readonly isForCalls: boolean;
    };

/** The contract of a driver; the contract test walks the registry. */
export type Driver = {
  /** As people write it. */
  readonly title: string;
  /** The languages of port files that it runs. */
  readonly languages: readonly string[];
  /** The driver's program, relative to `drivers/` in the package. */
  readonly program: string;
  readonly runtime: {
    /** The usual command. */
    readonly command: string;
    /** Matches the names under which the interpreter goes, versions included. */
    readonly names: RegExp;
    /** The interpreter that runs Side Twin itself, where it is this one. */
    readonly self?: string;
    /** Arguments with which a version manager's shim prints the path of the real interpreter; null where it cannot. */
    readonly locate: readonly string[] | null;
    /** How to get it, in a sentence. */
    readonly get: string;
  };
  /** Arguments of the interpreter, given the memory limit in megabytes. */
  readonly flags: (memoryMb: number) => readonly string[];
  /**
   * How it reports the lines that ran: with each answer when `hello` asks for it, or counted from a start to an end; null
   * where it cannot.
   */
  readonly lines: "each" | "counted" | null;
  /** Reports lines with each answer too, though its reports count them: quicker, and enough for a search. */
  readonly marksLines?: true;
  /** Builds a side's driver; null if the sources run as they are. */
  readonly build: ((side: BuildSide) => Promise<Built>) | null;
  /** Set for all programs. */
  readonly environment: Readonly<Record<string, string>>;
  /** Set where the times of output lines are observed: a line in a buffer would have the time of the buffer. */
  readonly unbuffered: Readonly<Record<string, string>>;
  /** Set when the original runs again, so that what rests on hash order comes out otherwise. */
  readonly otherHashes: Readonly<Record<string, string>>;
  /** How the clock and the random numbers of a whole program are fixed; null where they cannot be. */
  readonly fix: ProgramFix | null;
  /** Null where the lines of programs cannot be traced. */
  readonly tracing: {
    /** Whether lines can be traced for a command whose program is resolved. */
    readonly canTrace: (command: readonly string[]) => boolean;
    /** The command and environment that write the lines down at `out`. */
    readonly start: (command: readonly string[], at: TracePlaces) => TracedCommand;
    /**
     * Returns the lines that a run recorded, by file below `root`, and removes the record. Empty if nothing was
     * recorded.
     */
    readonly read: (out: string, root: string) => Promise<Lines>;
  } | null;
  /** How a copy of a program notes which of its statements are reached; null where `tracing` does, or nothing can. */
  readonly probes: ProgramProbes | null;
  /** How the calls of a program into some of its files are noted, or null where they cannot be. */
  readonly recording: {
    /** Settings of the recorder, beside the folder `out` that it writes to. `files` are relative to `root`. */
    readonly settings: (root: string, files: readonly string[]) => Promise<Readonly<Record<string, unknown>>>;
    /** File → its text with probes; null where probes are put in when the file is loaded. */
    readonly sources: (root: string, files: readonly string[]) => Promise<Readonly<Record<string, string>> | null>;
    /** The command and environment that record; `settings` is the file with the settings. */
    readonly start: (command: readonly string[], at: RecordPlaces) => TracedCommand;
  } | null;
  /**
   * How the port's shapes of arguments are applied: by the driver, or around it, where an out parameter is given an empty
   * value of its declared type (`typed`) or an empty list (`untyped`).
   */
  readonly shapes: "driver" | "typed" | "untyped";
  /** Names of folders that hold what the language's tools make, and nothing that a program needs: they are not even copied. */
  readonly madeFolders: readonly string[];
};

/** Defaults for a driver that only calls sections: no fixed program clock, no program tracing, no recording. */
export const CALLS_ONLY = {
  flags: () => [],
  environment: {},
  unbuffered: {},
  otherHashes: {},
  fix: null,
  tracing: null,
  probes: null,
  recording: null,
  madeFolders: [],
} as const satisfies Partial<Driver>;

/**
 * Probes in the sources of a program: its copy is built by the port's own commands. A probe writes a byte at its number's
 * offset into the file that the environment names in `SIDE_TWIN_PROBES`, the first time that it is reached.
 */
export type ProgramProbes = {
  readonly isSource: (file: string) => boolean;
  /** The statement of a probe. */
  readonly call: (probe: number) => string;
  /**
   * Returns the files to write into the copy: those with probes, with what they need in or beside them. `count` is the
   * number of probes; `isMoved` is set once a build did not find what was put beside them.
   */
  readonly complete: (
    files: ReadonlyMap<string, string>,
    terms: { readonly count: number; readonly isMoved: boolean },
  ) => ReadonlyMap<string, string>;
  /** Whether a failed build's output shows that it did not find a file that was added beside the sources. */
  readonly isMissed?: (printed: string) => boolean;
  /** Environment variables of a run; `home` is the `drivers/` folder. */
  readonly environment?: (home: string) => Readonly<Record<string, string>>;
};

/** A side whose sources are built. */
export type BuildSide = {
  readonly folder: string;
  /** Relative to the folder. */
  readonly files: readonly string[];
  readonly call: {
    readonly compiler?: readonly string[] | undefined;
    readonly flags?: readonly string[] | undefined;
    readonly classPath?: readonly string[] | undefined;
    /** Include folders, source patterns and linker flags, for C and C++. */
    readonly include?: readonly string[] | undefined;
    readonly sources?: readonly string[] | undefined;
    readonly link?: readonly string[] | undefined;
  };
  /** The port's shapes for a function in a file, by parameter. `key` changes with any of them. */
  readonly shapes: {
    readonly of: (file: string, name: string) => Readonly<Record<string, string>> | undefined;
    readonly key: string;
  };
  readonly memoryMb: number;
  /** Whether each answer reports the lines it ran. */
  readonly lines: boolean;
  /** The `drivers/` folder. */
  readonly home: string;
  /** The interpreter or tool, found, with its arguments. */
  readonly runtime: readonly string[];
  /** A folder that stays between builds. */
  readonly cache: string;
  /** Runs a tool in the side's folder; it may write to `writable` alone. */
  readonly run: (
    command: readonly string[],
    ...writable: readonly string[]
  ) => Promise<{ readonly isOk: boolean; readonly printed: string }>;
};

/** The result of a build: the command that starts the driver. */
export type Built = { readonly command: readonly string[] };

/** Paths for tracing one program run. */
export type TracePlaces = {
  /** The `drivers/` folder. */
  readonly home: string;
  /** Where the lines go: a file or a folder, which is not there yet. */
  readonly out: string;
  /** A folder that stays between runs. */
  readonly cache: string;
  readonly root: string;
};

/** Paths for recording one program run. */
export type RecordPlaces = {
  /** The `drivers/` folder. */
  readonly home: string;
  readonly settings: string;
};

/** A command that traces itself. */
export type TracedCommand = {
  readonly command: readonly string[];
  readonly environment: Readonly<Record<string, string>>;
};

/** Environment variables that pass the fixed clock and seed to preloaded files. */
export const fixedVariables = ({ now, seed }: FixedTerms): Record<string, string> => ({
  ...(now === undefined ? {} : { SIDE_TWIN_NOW: now }),
  ...(seed === undefined ? {} : { SIDE_TWIN_SEED: String(seed) }),
});
