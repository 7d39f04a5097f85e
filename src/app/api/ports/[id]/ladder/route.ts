import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.ladder, ({ twin }, { id }) => currentWorkbench().ladder.ladder(id, twin));

export const POST = handle(ROUTES.diagnose, ({ twin }, { id, signal }) =>
  currentWorkbench().ladder.diagnose(id, twin, signal),
);
