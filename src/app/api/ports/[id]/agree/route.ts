import { z } from "zod";
import { readBody, respond, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

const wanted = z.strictObject({ caseId: z.string(), twin: z.string(), reason: z.string() });

export const POST = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().edit.agree((await params).id, await readBody(request, wanted)));
