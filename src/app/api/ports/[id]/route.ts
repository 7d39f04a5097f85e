import { respond, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const DELETE = (_request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().removePort((await params).id));
