import type { ErrorRecord } from "@/core/errors";
import { Problem } from "@/ui/frame/problem";

/** The error that keeps a view from being shown; nothing if there is none. */
export function PageProblem({ error }: { error: ErrorRecord | null }) {
  return (
    error && (
      <main className="page-message">
        <Problem record={error} />
      </main>
    )
  );
}
