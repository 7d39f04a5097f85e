/** The one door from screens to the server: JSON in, records out, errors as the record they are. */
import type { ErrorRecord } from "@/core/errors";

/** A refusal by the server, with its record; `message` is for logs only. */
export class ApiError extends Error {
  constructor(readonly record: ErrorRecord) {
    super(record.what);
    this.name = "ApiError";
  }
}

type Options = {
  readonly method?: "GET" | "POST" | "PUT" | "DELETE";
  readonly body?: unknown;
  readonly signal?: AbortSignal;
};

/** Throws ApiError. */
export function call<T>(path: string, options: Options = {}): Promise<T> {
  const { method = "GET", body, signal } = options;
  return ask<T>(path, {
    method,
    ...(signal ? { signal } : {}),
    ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { "content-type": "application/json" } }),
  });
}

/** Sends a file as it is. Throws ApiError. */
export const send = <T>(path: string, file: Blob): Promise<T> => ask<T>(path, { method: "POST", body: file });

async function ask<T>(path: string, request: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, request);
  } catch (cause) {
    if (cause instanceof DOMException && cause.name === "AbortError") throw cause;
    throw new ApiError({
      code: "internal",
      what: "The server does not answer",
      next: "Start `side-twin serve` again; nothing that was shown is lost.",
    });
  }
  const data: unknown = await response.json().catch(() => null);
  if (response.ok) return data as T; // our own server's records
  const record = data && typeof data === "object" && "error" in data ? (data.error as ErrorRecord) : null;
  throw new ApiError(record ?? { code: "internal", what: `The server answered ${response.status}` });
}

/** `/api/ports/ID/…` with its parameters; undefined and null ones are left out. */
export function portPath(
  id: string,
  rest: string,
  parameters: Readonly<Record<string, string | null | undefined>> = {},
): string {
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(parameters)) if (value) query.set(name, value);
  const text = query.toString();
  return `/api/ports/${encodeURIComponent(id)}/${rest}${text ? `?${text}` : ""}`;
}

/** The page of a module on the Bench, at a section when one is named. */
export function benchHref(id: string, module: string, twin?: string | null, section?: string | null): string {
  const query = new URLSearchParams({ module, ...(twin ? { twin } : {}), ...(section ? { section } : {}) });
  return `/port/${encodeURIComponent(id)}/bench?${query}`;
}
