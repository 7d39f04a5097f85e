/** Changes twelve files again and again, all at once, until it is killed: a program of the snapshots' test. */
import { Snapshots } from "@/engine/snapshots/snapshots";

const [folder = "", data = ""] = process.argv.slice(2);
const files = Array.from({ length: 12 }, (_, index) => `f${index}.txt`);
process.stdout.write("ready\n");
for (let round = 0; ; round++) {
  const content = Buffer.from(round % 2 === 0 ? "new" : "old");
  Snapshots.open(data, "/p/side-twin.json").change(
    folder,
    "round",
    files.map((file) => ({ file, content })),
    new Map(),
  );
}
