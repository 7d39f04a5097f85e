import { z } from "zod";
import { readBody, respond, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

const wanted = z.strictObject({ caseId: z.string(), twin: z.string().optional() });

export const POST = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().shrink((await params).id, await readBody(request, wanted), request.signal));

/** Stops it; the request that asked for it is answered with the best so far. */
export const DELETE = (_request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().stopShrinking((await params).id));
