/** The one way route handlers answer: JSON, or the error record with its status. */
import type { z } from "zod";
import type { Route } from "@/api/route";
import { SideTwinError, toErrorRecord } from "@/core/errors";
import { firstIssue, issueToError } from "@/core/formats/document";
import { HTTP_STATUS } from "@/service/port/exit-status";

export const respond = (work: () => Promise<unknown>): Promise<Response> =>
  answer(async () => Response.json((await work()) ?? {}, { headers: { "cache-control": "no-store" } }));

/** The same for what is no JSON: a file to save, a picture. */
export const respondWith = (
  headers: Readonly<Record<string, string>>,
  work: () => Promise<string | Uint8Array>,
): Promise<Response> =>
  answer(async () => new Response(toBody(await work()), { headers: { "cache-control": "no-store", ...headers } }));

const toBody = (content: string | Uint8Array): string | Blob =>
  typeof content === "string" ? content : new Blob([new Uint8Array(content)]);

/** Runs what makes a response; what it throws becomes the error record with its status. */
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
 * A request's JSON body against a schema, `{}` where there is none; anything else is a `bad-input` record, and more than `maxBytes` are a `too-large`
 * one, seen before they are all read.
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

/** Throws SideTwinError `bad-input` with the key of the request and what is wrong with it. */
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

export type WithId = { readonly params: Promise<{ readonly id: string }> };

/** Which port a request is for, and when whoever asked has gone. */
export type Asked = { readonly id: string; readonly signal: AbortSignal };

/** The handler of a route of the API: what it takes is read and checked first, and what it gives is the route's reply. */
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
