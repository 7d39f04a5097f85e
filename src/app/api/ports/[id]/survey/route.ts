import { z } from "zod";
import { query, readBody, respond, type WithId } from "@/app/api/respond";
import { WAYS } from "@/core/formats/ways";
import { currentWorkbench } from "@/service/server/current";

export const GET = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().survey((await params).id, query(request, "twin")));

const decision = z.strictObject({ name: z.string(), way: z.enum(WAYS).nullable(), note: z.string() });

export const POST = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().edit.decideWay((await params).id, await readBody(request, decision)));

const addition = z.strictObject({ name: z.string(), match: z.string() });

export const PUT = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().edit.addSnag((await params).id, await readBody(request, addition)));
