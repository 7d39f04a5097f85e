import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.startCheck, (scope, { id }) => currentWorkbench().runs.startCheck(id, scope));

export const DELETE = handle(ROUTES.stopCheck, async (_, { id }) => currentWorkbench().runs.stop(id));
