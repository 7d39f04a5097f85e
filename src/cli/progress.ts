/** Progress on standard error, only when that is a terminal. */
import type { Verdict } from "@/service/check/verdict";

/** Shows progress on one line of a terminal; silent elsewhere. */
export function showProgress(stream: NodeJS.WriteStream = process.stderr) {
  let total = 0;
  let done = 0;
  let bad = 0;
  let shown = 0;
  const draw = (text: string) => {
    if (stream.isTTY) stream.write(`\r\u001b[2K${text}`);
  };
  return {
    start: (count: number) => {
      total = count;
    },
    verdict: ({ outcome }: Verdict) => {
      done++;
      if (outcome === "differ" || outcome === "broken") bad++;
      const now = performance.now();
      if (now - shown < 80) return;
      shown = now;
      draw(`${Math.min(done, total)} of ${total} cases, ${bad} differ or are broken`);
    },
    phase: (phase: string) =>
      draw(
        {
          prepare: "preparing both sides",
          run: "running",
          steady: "running the original again",
          trace: "tracing proven lines",
          part: "finding where differing cases part inside",
        }[phase] ?? phase,
      ),
    end: () => draw(""),
  };
}
