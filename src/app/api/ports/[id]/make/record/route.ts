import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.recordCommands, (_wanted, { id }) => currentWorkbench().exploring.recordCommands(id));
export const POST = handle(ROUTES.record, (wanted, { id, signal }) =>
  currentWorkbench().exploring.record(id, wanted, signal),
);
