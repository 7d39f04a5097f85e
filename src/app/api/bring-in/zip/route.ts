import { query, respond } from "@/app/api/respond";
import { SideTwinError } from "@/core/errors";
import { currentWorkbench } from "@/service/server/current";

/** How far the unpacking is. */
export const GET = () => respond(async () => ({ progress: currentWorkbench().bringIn.progress }));

/** The zip itself is the body. */
export const POST = (request: Request) =>
  respond(async () => {
    if (request.body) return currentWorkbench().bringIn.lookAtZip(query(request, "name") ?? "the zip", request.body);
    throw new SideTwinError({ code: "bad-input", what: "No zip was sent", next: "Choose one." });
  });
