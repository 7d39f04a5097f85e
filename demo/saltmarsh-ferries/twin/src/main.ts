/** The command line. */
import { readFileSync, writeFileSync } from "node:fs";
import { CalendarError, daysUntil, parseDay } from "./calendar-rules";
import { ClockError, formatTime, parseTime } from "./clock";
import { FareError, ticketLine } from "./fares";
import { ManifestError, merge, read, summary, write } from "./manifests";
import { MoneyError } from "./money";
import { turningPoints } from "./tides";
import { describeNext } from "./timetable";

const USAGE = `usage: ferry COMMAND
  fare START END [KIND]      the fare between two landings
  next DAY LANDING TIME      the next boat
  tides DAY                  high and low water
  manifest FILE              sums up a manifest (- reads standard input)
  merge OUT FILE FILE        merges two manifests into a file`;

const hoursAt = (day: Date) => daysUntil(parseDay("2031-01-01"), day) * 24;
const readManifest = (name: string) => read(readFileSync(name === "-" ? 0 : name, "utf8"));

const COMMANDS: Record<string, (words: string[]) => void> = {
  fare: ([start, end, kind]) => console.log(ticketLine(start!, end!, kind ?? "adult", { width: 48 })),
  next: ([day, landing, at]) => console.log(describeNext(parseDay(day!), landing!, parseTime(at!))),
  tides: ([text]) => {
    const day = parseDay(text!);
    for (const point of turningPoints(hoursAt(day), hoursAt(day) + 24)) {
      console.log(`${formatTime(point.minute)} ${point.kind.padEnd(4)} ${point.heightCm} cm`);
    }
  },
  manifest: ([name]) => {
    const facts = summary(readManifest(name!));
    console.log(`people ${facts.people}`);
    for (const kind of Object.keys(facts.kinds).sort()) console.log(`  ${kind} ${facts.kinds[kind]}`);
    console.log(`bags ${facts.bags}`);
  },
  merge: ([out, first, second]) => {
    const rows = merge(readManifest(first!), readManifest(second!));
    writeFileSync(out!, write(rows));
    console.log(`${rows.length} people in ${out}`);
  },
};

const ERRORS = [CalendarError, ClockError, FareError, ManifestError, MoneyError];

function main(words: string[]): number {
  const command = COMMANDS[words[0] ?? ""];
  if (!command) {
    console.error(USAGE);
    return 2;
  }
  try {
    command(words.slice(1));
  } catch (error) {
    if (!ERRORS.some((kind) => error instanceof kind)) throw error;
    console.error(`ferry: ${(error as Error).message}`);
    return 1;
  }
  return 0;
}

process.exitCode = main(process.argv.slice(2));
