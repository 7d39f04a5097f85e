import { respond, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = (_request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().baseline((await params).id));

export const POST = (_request: Request, { params }: WithId) =>
  respond(async () => currentWorkbench().runs.startBaseline((await params).id));
