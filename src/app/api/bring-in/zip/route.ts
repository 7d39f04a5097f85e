import { ROUTES } from "@/api/routes";
import { handle, query, respond } from "@/app/api/respond";
import { SideTwinError } from "@/core/errors";
import { currentWorkbench } from "@/service/server/current";

/** How far the unpacking is. */
export const GET = handle(ROUTES.unpacking, async () => ({ progress: currentWorkbench().bringIn.progress }));

/** The zip itself is the body. */
export const POST = (request: Request) =>
  respond(async () => {
    if (request.body) return currentWorkbench().bringIn.inspectZip(query(request, "name") ?? "the zip", request.body);
    throw new SideTwinError({ code: "bad-input", what: "No zip was sent", next: "Choose one." });
  });
