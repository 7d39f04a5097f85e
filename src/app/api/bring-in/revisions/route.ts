import { query, respond } from "@/app/api/respond";
import { currentWorkbench } from "@/service/current";

export const GET = (request: Request) =>
  respond(() => currentWorkbench().bringIn.revisions(query(request, "folder") ?? ""));
