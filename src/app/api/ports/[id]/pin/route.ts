import { z } from "zod";
import { readBody, respond, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

const wanted = z.strictObject({ module: z.string(), pinned: z.boolean() });

export const POST = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().edit.pin((await params).id, await readBody(request, wanted)));
