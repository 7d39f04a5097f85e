import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.survey, ({ twin }, { id }) => currentWorkbench().survey(id, twin));

export const POST = handle(ROUTES.decideWay, (wanted, { id }) => currentWorkbench().edit.decideWay(id, wanted));

export const PUT = handle(ROUTES.addSnag, (wanted, { id }) => currentWorkbench().edit.addSnag(id, wanted));

export const DELETE = handle(ROUTES.removeSnag, ({ name }, { id }) => currentWorkbench().edit.removeSnag(id, name));
