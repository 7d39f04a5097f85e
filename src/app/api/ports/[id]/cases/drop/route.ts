import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.dropCases, ({ ids }, { id }) => currentWorkbench().exploring.drop(id, ids));
