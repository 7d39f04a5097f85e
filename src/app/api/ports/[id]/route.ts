import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const DELETE = handle(ROUTES.remove, (_, { id }) => currentWorkbench().removePort(id));
