import { attackTwin, faultNames } from "./twins";
import { formatFindings } from "./finding";
const [,, language, every, from] = process.argv;
const names = faultNames(language as "python", Number(every ?? 1), Number(from ?? 0));
const found = [];
for (let at = 0; at < names.length; at += 10) { const t = performance.now(); found.push(...(await attackTwin(language as "python", names.slice(at, at + 10)))); console.log(at, Math.round(performance.now() - t)); if (found.at(-1)?.wrong.length) console.log(found.at(-1)?.wrong); }
console.log(formatFindings(found));
process.exit(0);
