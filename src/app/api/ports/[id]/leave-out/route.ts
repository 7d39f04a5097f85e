import { z } from "zod";
import { readBody, respond, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

const wanted = z.strictObject({ module: z.string(), reason: z.string().max(2000).nullable() });

export const POST = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().edit.leaveOut((await params).id, await readBody(request, wanted)));
