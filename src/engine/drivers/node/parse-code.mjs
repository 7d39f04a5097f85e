import { createRequire } from "node:module";

const require = createRequire(import.meta.url);

/** The syntax tree of a module's code as it is run, a function's body; null where it cannot be parsed. */
export function parseCode(code) {
  try {
    // Loaded when first needed: a driver starts a good deal faster without.
    return require("acorn").parse(code, {
      ecmaVersion: "latest",
      sourceType: "script",
      allowReturnOutsideFunction: true,
    });
  } catch {
    return null;
  }
}
