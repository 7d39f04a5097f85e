import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.draft, (wanted, { id }) => currentWorkbench().exploring.draft(id, wanted));
