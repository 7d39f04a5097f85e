import { z } from "zod";
import { readBody, respond, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

const scope = z.strictObject({
  module: z.string().optional(),
  twin: z.string().optional(),
  caseId: z.string().optional(),
  fresh: z.boolean().optional(),
  resume: z.string().max(100).optional(),
});

export const POST = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().runs.startCheck((await params).id, await readBody(request, scope)));

export const DELETE = (_request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().runs.stop((await params).id));
