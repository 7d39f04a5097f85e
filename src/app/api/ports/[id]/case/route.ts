import { query, respond, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = (request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().case((await params).id, query(request, "case") ?? "", query(request, "twin")));
