/** What the twin uses of Node.js. */
declare module "node:fs" {
  export function readFileSync(path: string | 0, encoding: "utf8"): string;
  export function writeFileSync(path: string, text: string): void;
}
declare const process: { readonly argv: string[]; exitCode: number | undefined };
