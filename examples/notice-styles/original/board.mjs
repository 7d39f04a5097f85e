/** Prints the spaces of a sheet in pixels, each utility name as the amount that it stands for. */
import { readFileSync } from "node:fs";

const STEPS = { 1: 4, 2: 8, 3: 12, 4: 16 };
const NAMES = { p: "padding", m: "margin" };

for (const [, selector, body] of readFileSync("notices.css", "utf8").matchAll(/^([^\s{/][^{]*) \{([^}]*)\}/gm)) {
  const spaces = [];
  for (const line of body.split(";").map((text) => text.trim())) {
    const plain = /^(padding|margin): (\d+)px$/.exec(line);
    const named = /^@apply (p|m)-(\d)$/.exec(line);
    if (plain) spaces.push(`${plain[1]} ${plain[2]}`);
    if (named) spaces.push(`${NAMES[named[1]]} ${STEPS[named[2]]}`);
  }
  process.stdout.write(`${selector}: ${spaces.join(", ")}\n`);
}
