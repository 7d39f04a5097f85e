import { z } from "zod";
import { query, readBody, respond, type WithId } from "@/app/api/respond";
import { sharedCaseSchema } from "@/core/formats/case-line";
import { currentWorkbench } from "@/service/server/current";

export const GET = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().cases((await params).id, query(request, "twin")));

const addition = z.strictObject({ case: sharedCaseSchema });

export const POST = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().edit.addCase((await params).id, (await readBody(request, addition)).case));
