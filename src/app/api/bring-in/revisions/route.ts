import { query, respond } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = (request: Request) =>
  respond(() => currentWorkbench().bringIn.revisions(query(request, "folder") ?? ""));
