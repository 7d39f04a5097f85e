/** A tool that is kept running between two runs of a check, as starting again takes most of its time. */

/** One tool. To add one is a file with this record, a program beside it, and a line in `warm-tools.ts`. */
export type WarmTool = {
  readonly name: string;
  /**
   * Returns how to start its server for a command, or null where the command is not one that it can take over. The
   * program is absolute.
   */
  readonly start: (command: readonly string[]) => WarmStart | null;
};

/** A server and the arguments that each question gives it. */
export type WarmStart = { readonly server: readonly string[]; readonly args: readonly string[] };
