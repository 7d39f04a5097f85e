/**
 * `npm run attack [SEED]`: all attacks, with a table of what held. Ends with status 1 where something did not.
 * Twins go two at a time, one of each language; the rest one after another.
 */
import { attackRepositories, attackZips } from "./bundles";
import { attackFiles } from "./files";
import { type Finding, formatFindings } from "./finding";
import { attackByKills } from "./kills";
import { attackAnswers, attackCases, attackPortFile } from "./races";
import { attackTwin, faultNames, type Language } from "./twins";

const seed = Number(process.argv[2] ?? 20_310_402);
const say = (line: string) => process.stdout.write(`${line}\n`);
const AT_ONCE = 10;

async function twins(language: Language): Promise<Finding[]> {
  const names = faultNames(language);
  const findings: Finding[] = [];
  for (let at = 0; at < names.length; at += AT_ONCE)
    findings.push(...(await attackTwin(language, names.slice(at, at + AT_ONCE))));
  return findings;
}

const started = performance.now();
const findings: Finding[] = [];
const parts: readonly (readonly [string, () => Promise<Finding[]>])[] = [
  ["misbehaving twins", async () => (await Promise.all([twins("javascript"), twins("python")])).flat()],
  ["malformed files", () => attackFiles(300, seed)],
  ["zips", () => attackZips(60, seed)],
  ["repositories", () => attackRepositories()],
  ["races on the port file", () => attackPortFile(30, seed)],
  ["races on case files", () => attackCases(20)],
  ["checks at once", () => attackAnswers(5)],
  ["kills", () => attackByKills(30, seed)],
];
say(`seed ${seed}`);
for (const [name, attack] of parts) {
  const since = performance.now();
  findings.push(...(await attack()));
  say(`${name}: ${((performance.now() - since) / 1000).toFixed(0)} s`);
}
say(`\n${formatFindings(findings)}`);
say(`\n${((performance.now() - started) / 60_000).toFixed(1)} minutes`);
process.exit(findings.some(({ wrong }) => wrong.length > 0) ? 1 : 0);
