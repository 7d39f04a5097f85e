/** The one way route handlers answer: JSON, or the error record with its status. */
import { SideTwinError, toErrorRecord } from "@/core/errors";
import { HTTP_STATUS } from "@/service/exit-status";

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

async function answer(work: () => Promise<Response>): Promise<Response> {
  try {
    return await work();
  } catch (thrown) {
    const record = toErrorRecord(thrown);
    if (record.code === "internal")
      process.stderr.write(`side-twin: ${thrown instanceof Error ? thrown.stack : thrown}\n`);
    return Response.json({ error: record }, { status: HTTP_STATUS[record.code] });
  }
}

/** A request's JSON body against a schema; anything else is a `bad-input` record. */
export async function readBody<T>(
  request: Request,
  schema: { safeParse: (value: unknown) => { success: boolean; data?: T } },
): Promise<T> {
  const body: unknown = await request.json().catch(() => null);
  const parsed = schema.safeParse(body);
  if (parsed.success && parsed.data !== undefined) return parsed.data;
  throw new SideTwinError({
    code: "bad-input",
    what: "The request is malformed",
    next: "Reload the page and try again.",
  });
}

/** A query parameter, undefined when it is not there or empty. */
export const query = (request: Request, name: string): string | undefined =>
  new URL(request.url).searchParams.get(name) || undefined;

export type WithId = { readonly params: Promise<{ readonly id: string }> };
