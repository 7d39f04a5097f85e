import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.settings, (_, { id }) => currentWorkbench().settings(id));

export const PUT = handle(ROUTES.changeSetting, (wanted, { id }) => currentWorkbench().edit.changeSetting(id, wanted));
