/** The one door from screens to the server: a route of the contract in, its reply out, errors as the record they are. */
import type { FoundView } from "@/api/bring-in-views";
import { type Route, urlOf } from "@/api/route";
import { PATHS } from "@/api/routes";
import type { PlaceOnBench } from "@/api/views";
import { type ErrorRecord, formatError, toErrorRecord } from "@/core/errors";
import { placeText } from "@/ui/state/place-on-bench";

/** A refusal by the server, with its record; `message` is for logs only. */
export class ApiError extends Error {
  constructor(readonly record: ErrorRecord) {
    super(record.what);
    this.name = "ApiError";
  }
}

type Options = {
  /** The port that the route's path names. */
  readonly port?: string;
  readonly signal?: AbortSignal;
};

/** Asks a route of the server. Throws ApiError, and AbortError where `signal` aborts. */
export async function ask<Given, Reply>(
  route: Route<Given, Reply>,
  given: NoInfer<Given>,
  { port = "", signal }: Options = {},
): Promise<Reply> {
  const { method, path } = route;
  const isRead = method === "GET";
  return (
    await request(urlOf(path, port, isRead ? Object.fromEntries(Object.entries(given ?? {})) : {}), {
      method,
      ...(signal ? { signal } : {}),
      ...(isRead ? {} : { body: JSON.stringify(given), headers: { "content-type": "application/json" } }),
    })
  ).json();
}

/** Uploads a zip as it is; the reply is that of `inspect`. Throws ApiError. */
export async function uploadZip(file: File): Promise<FoundView> {
  return (await request(urlOf(PATHS.uploadZip, null, { name: file.name }), { method: "POST", body: file })).json();
}

async function request(url: string, init: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(url, init);
  } catch (cause) {
    if (cause instanceof DOMException && cause.name === "AbortError") throw cause;
    throw new ApiError({
      code: "internal",
      what: "The server does not answer",
      next: "Start `side-twin serve` again; nothing that was shown is lost.",
    });
  }
  if (response.ok) return response;
  const body: { error?: ErrorRecord } = await response.json().catch(() => ({}));
  throw new ApiError(body.error ?? { code: "internal", what: `The server answered ${response.status}` });
}

/** Why something failed, as the record that screens show. */
export const recordOf = (thrown: unknown): ErrorRecord =>
  thrown instanceof ApiError ? thrown.record : toErrorRecord(thrown);

/** The same in one sentence. */
export const describeRefusal = (thrown: unknown): string => formatError(recordOf(thrown));

/** The form for a new case of a section, or of a module where none is named. */
export function newCaseHref(id: string, twin: string | null, module: string, section?: string): string {
  const query = new URLSearchParams({ add: module, ...(section ? { section } : {}), ...(twin ? { twin } : {}) });
  return `/port/${encodeURIComponent(id)}/cases?${query}`;
}

/** The page of a module on the Bench, at a section when one is named. */
/** The address of a line on the Bench. */
export function placeHref(id: string, module: string, twin: string | null, place: PlaceOnBench): string {
  return `${benchHref(id, module, twin)}&${new URLSearchParams({ at: placeText(place) })}`;
}

export function benchHref(id: string, module: string, twin?: string | null, section?: string | null): string {
  const query = new URLSearchParams({ module, ...(twin ? { twin } : {}), ...(section ? { section } : {}) });
  return `/port/${encodeURIComponent(id)}/bench?${query}`;
}
