import type { ErrorRecord } from "@/core/errors";
import { formatPlace } from "@/core/errors";

/** An error as the record it is: what, where, what to do. */
export function Problem({ record }: { record: ErrorRecord }) {
  return (
    <div role="alert">
      <strong>{record.what}</strong>
      {record.where && <div className="mono soft">{formatPlace(record.where)}</div>}
      {record.next && <div>{record.next}</div>}
    </div>
  );
}
