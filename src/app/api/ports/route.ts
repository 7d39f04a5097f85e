import { z } from "zod";
import { readBody, respond } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = () => respond(() => currentWorkbench().listPorts());

const addition = z.strictObject({ folder: z.string().min(1) });

export const POST = (request: Request) =>
  respond(async () => currentWorkbench().addBrowsed((await readBody(request, addition)).folder));
