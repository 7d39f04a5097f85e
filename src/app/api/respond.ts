/** The one way route handlers answer: JSON, or the error record with its status. */
import type { z } from "zod";
import type { Route } from "@/api/route";
import { SideTwinError, toErrorRecord } from "@/core/errors";
import { firstIssue, issueToError } from "@/core/formats/document";
import { HTTP_STATUS } from "@/service/port/exit-status";

/** Answers with what `work` returns as JSON, never cached; its errors become error records. */
export const respond = (work: () => Promise<unknown>): Promise<Response> =>
  answer(async () => Response.json((await work()) ?? {}, { headers: { "cache-control": "no-store" } }));

/** The same for content that is not JSON: a download, a picture. */
export const respondWith = (
  headers: Readonly<Record<string, string>>,
  work: () => Promise<string | Uint8Array>,
): Promise<Response> =>
  answer(async () => new Response(toBody(await work()), { headers: { "cache-control": "no-store", ...headers } }));

const toBody = (content: string | Uint8Array): string | Blob =>
  typeof content === "string" ? content : new Blob([new Uint8Array(content)]);

/** Returns the response of `work`; turns anything it throws into the error record with its HTTP status. */
export async function answer(work: () => Promise<Response>): Promise<Response> {
  try {
    return await work();
  } catch (thrown) {
    const record = toErrorRecord(thrown);
    if (record.code === "internal")
      process.stderr.write(`side-twin: ${thrown instanceof Error ? thrown.stack : thrown}\n`);
    return Response.json({ error: record }, { status: HTTP_STATUS[record.code] });
  }
}

const MEGABYTE = 1024 * 1024;

/**
 * Parses a request's JSON body (`{}` if empty) with a schema. Throws SideTwinError: `bad-input` if it does not fit,
 * `too-large` as soon as more than `maxBytes` have arrived.
 */
export async function readBody<T>(request: Request, schema: z.ZodType<T>, maxBytes = MEGABYTE): Promise<T> {
  return parsed(parseJson((await readText(request, maxBytes)) || "{}"), schema);
}

async function readText(request: Request, maxBytes: number): Promise<string> {
  if (Number(request.headers.get("content-length") ?? 0) > maxBytes) throw tooLarge(maxBytes);
  const parts: Uint8Array[] = [];
  let bytes = 0;
  const reader = request.body?.getReader();
  for (let part = await reader?.read(); part && !part.done; part = await reader?.read()) {
    bytes += part.value.length;
    if (bytes > maxBytes) throw tooLarge(maxBytes);
    parts.push(part.value);
  }
  return Buffer.concat(parts).toString("utf8");
}

const tooLarge = (maxBytes: number): SideTwinError =>
  new SideTwinError({
    code: "too-large",
    what: `The request has more than ${Math.round(maxBytes / MEGABYTE)} MB`,
    next: "Send less at a time; files can be put into the port's folder by hand.",
  });

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw new SideTwinError({ code: "bad-input", what: "The request is not JSON", next: "Send a JSON object." }, cause);
  }
}

/** A request's query against a schema; anything else is a `bad-input` record. */
export const readQuery = <T>(request: Request, schema: z.ZodType<T>): T =>
  parsed(Object.fromEntries([...new URL(request.url).searchParams].filter(([, text]) => text !== "")), schema);

/** Throws SideTwinError `bad-input` naming the request's key and the problem. */
function parsed<T>(value: unknown, schema: z.ZodType<T>): T {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  throw issueToError(firstIssue(result.error.issues), value, (path) => ({
    file: "the request",
    ...(path.length > 0 ? { key: path.map(String).join(".") } : {}),
  }));
}

/** A query parameter, undefined when it is not there or empty. */
export const query = (request: Request, name: string): string | undefined =>
  new URL(request.url).searchParams.get(name) || undefined;

/** The second argument of handlers below `[id]`. */
export type WithId = { readonly params: Promise<{ readonly id: string }> };

/** The port that a request is for, and a signal that aborts when the client disconnects. */
export type Asked = { readonly id: string; readonly signal: AbortSignal };

/** Makes the handler of a route: reads and checks its input, then returns the reply of `work` as JSON. */
export const handle =
  <Given, Reply>(route: Route<Given, Reply>, work: (given: Given, asked: Asked) => Promise<Reply>) =>
  (
    request: Request,
    { params }: { readonly params: Promise<{ readonly id?: string } | undefined> },
  ): Promise<Response> =>
    respond(async () => {
      const given =
        route.method === "GET"
          ? readQuery(request, route.takes)
          : await readBody(request, route.takes, route.maxBytes ?? MEGABYTE);
      return work(given, { id: (await params)?.id ?? "", signal: request.signal });
    });
