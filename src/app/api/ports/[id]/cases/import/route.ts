import { z } from "zod";
import { readBody, respond, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/current";

const wanted = z.strictObject({ text: z.string() });

export const POST = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().edit.importCases((await params).id, (await readBody(request, wanted)).text));
