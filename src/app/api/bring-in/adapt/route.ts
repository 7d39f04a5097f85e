import { z } from "zod";
import { readBody, respond } from "@/app/api/respond";
import { draftSchema } from "@/core/bring-in/draft";
import { currentWorkbench } from "@/service/server/current";

const wanted = z.strictObject({ token: z.string(), draft: draftSchema });

export const POST = (request: Request) =>
  respond(async () => {
    const { token, draft } = await readBody(request, wanted);
    return currentWorkbench().bringIn.adapt(token, draft);
  });
