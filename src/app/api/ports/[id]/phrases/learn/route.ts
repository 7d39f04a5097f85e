import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.learn, ({ twin }, { id }) => currentWorkbench().making.learn(id, twin));
