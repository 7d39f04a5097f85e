import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.handCallback, (wanted, { id }) => currentWorkbench().edit.handCallback(id, wanted));
