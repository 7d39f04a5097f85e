import { z } from "zod";
import { readBody, respond, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

const tighten = z.strictObject({ allowance: z.string(), twin: z.string() });
const remove = z.strictObject({ allowance: z.string() });

export const POST = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().edit.tighten((await params).id, await readBody(request, tighten)));

export const DELETE = (request: Request, { params }: WithId) =>
  respond(async () =>
    currentWorkbench().edit.removeAllowance((await params).id, (await readBody(request, remove)).allowance),
  );
