import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.module, ({ module, twin }, { id }) => currentWorkbench().module(id, module, twin));
