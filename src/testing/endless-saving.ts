/** Saves batches of verdicts until it is killed, printing the number of each batch once it is saved. */
import path from "node:path";
import { packageRoot } from "@/engine/package-root";
import { startCheck } from "@/store/checks";
import { Store } from "@/store/open";
import { savePort } from "@/store/ports";

const store = await Store.open(process.argv[2] ?? "", path.join(packageRoot(), "src/store/migrations"));
await savePort(store, { id: "p1", file: "/f", name: "A", addedAt: new Date(0) });
const check = await startCheck(store, { portId: "p1", module: null, startedAt: new Date(0) });
for (let batch = 1; ; batch++) {
  const verdicts = Array.from({ length: 20 }, (_, index) => ({
    row: {
      twin: "ts",
      caseId: `c${batch}-${index}`,
      module: "m",
      section: "f",
      outcome: "agree" as const,
      side: null,
      why: null,
      msOriginal: 1,
      msTwin: 1,
      stamp: "s",
      divergenceCount: 0,
      excuses: [],
      checkId: check,
    },
    detail: '{"original":{}}',
  }));
  await (await store.verdicts("p1")).save(check, verdicts);
  process.stdout.write(`${batch}\n`);
}
