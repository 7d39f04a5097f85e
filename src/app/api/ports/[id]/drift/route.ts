import { z } from "zod";
import { readBody, readQuery, respond, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

const wanted = z.strictObject({ module: z.string(), section: z.string(), twin: z.string() });

export const GET = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().changes((await params).id, readQuery(request, wanted)));

export const POST = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().edit.follow((await params).id, await readBody(request, wanted)));
