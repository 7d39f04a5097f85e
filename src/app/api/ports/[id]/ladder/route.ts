import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.ladder, ({ twin }, { id }) => currentWorkbench().making.ladder(id, twin));

export const POST = handle(ROUTES.diagnose, ({ twin }, { id, signal }) =>
  currentWorkbench().making.diagnose(id, twin, signal),
);
