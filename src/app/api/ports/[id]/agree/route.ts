import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.agree, (wanted, { id }) => currentWorkbench().edit.agree(id, wanted));
