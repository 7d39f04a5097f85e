import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.tryPhrase, (wanted, { id }) => currentWorkbench().making.tryPhrase(id, wanted));
