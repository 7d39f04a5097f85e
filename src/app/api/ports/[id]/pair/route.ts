import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.pair, (wanted, { id }) => currentWorkbench().edit.pairByHand(id, wanted));
