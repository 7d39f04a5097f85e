import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.shrink, (wanted, { id, signal }) => currentWorkbench().shrink(id, wanted, signal));

export const DELETE = handle(ROUTES.stopShrinking, async (_, { id }) => currentWorkbench().stopShrinking(id));
