import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.source, (wanted, { id }) => currentWorkbench().making.source(id, wanted));

export const PUT = handle(ROUTES.saveSource, (edit, { id }) => currentWorkbench().making.saveSource(id, edit));
