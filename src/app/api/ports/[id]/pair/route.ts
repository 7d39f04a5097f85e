import { z } from "zod";
import { readBody, respond, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

const wanted = z
  .strictObject({
    module: z.string(),
    on: z.string(),
    original: z.string().min(1).nullable(),
    twin: z.string().min(1).nullable(),
    note: z.string().max(2000),
    forget: z.boolean().optional(),
  })
  .refine(({ original, twin }) => original !== null || twin !== null);

export const POST = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().edit.sayPair((await params).id, await readBody(request, wanted)));
