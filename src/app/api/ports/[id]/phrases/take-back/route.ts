import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.takeBack, (wanted, { id }) => currentWorkbench().making.takeBack(id, wanted));
