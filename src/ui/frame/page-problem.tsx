import type { ErrorRecord } from "@/core/errors";
import { Problem } from "@/ui/frame/problem";

/** What keeps a whole view from being shown, in its place; nothing when nothing does. */
export function PageProblem({ error }: { error: ErrorRecord | null }) {
  return (
    error && (
      <main className="page-message">
        <Problem record={error} />
      </main>
    )
  );
}
