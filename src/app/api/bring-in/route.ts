import { z } from "zod";
import { query, readBody, respond } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

const source = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("folder"), folder: z.string().min(1) }),
  z.strictObject({ kind: z.literal("git"), folder: z.string().min(1), revision: z.string().min(1).max(500) }),
]);

export const POST = (request: Request) =>
  respond(async () => currentWorkbench().bringIn.look(await readBody(request, source)));

export const DELETE = (request: Request) =>
  respond(() => currentWorkbench().bringIn.drop(query(request, "token") ?? ""));
