import { z } from "zod";
import { readBody, respond, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

/** Some hundred thousand cases; reading more in one go would hold up every other page. */
const MAX_BYTES = 16 * 1024 * 1024;

const wanted = z.strictObject({ text: z.string() });

export const POST = (request: Request, { params }: WithId) =>
  respond(async () =>
    currentWorkbench().edit.importCases((await params).id, (await readBody(request, wanted, MAX_BYTES)).text),
  );
