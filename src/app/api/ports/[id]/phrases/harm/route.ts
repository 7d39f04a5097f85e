import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.phraseHarm, ({ twin }, { id, signal }) =>
  currentWorkbench().making.harm(id, twin, signal),
);
