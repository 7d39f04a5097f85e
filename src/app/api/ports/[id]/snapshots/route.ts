import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.undo, (wanted, { id }) => currentWorkbench().making.undo(id, wanted.id));
export const PUT = handle(ROUTES.redo, (wanted, { id }) => currentWorkbench().making.redo(id, wanted.id));
