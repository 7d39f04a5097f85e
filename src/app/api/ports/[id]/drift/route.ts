import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.changes, (wanted, { id }) => currentWorkbench().changes(id, wanted));

export const POST = handle(ROUTES.follow, (wanted, { id }) => currentWorkbench().edit.follow(id, wanted));
