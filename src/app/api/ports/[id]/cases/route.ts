import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.cases, ({ twin }, { id }) => currentWorkbench().cases(id, twin));

export const POST = handle(ROUTES.addCase, (given, { id }) => currentWorkbench().edit.addCase(id, given.case));

export const PUT = handle(ROUTES.editCase, ({ id: name, case: item }, { id }) =>
  currentWorkbench().edit.editCase(id, { id: name, item }),
);
