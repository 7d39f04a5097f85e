import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.tighten, (wanted, { id }) => currentWorkbench().edit.tighten(id, wanted));

export const DELETE = handle(ROUTES.removeAllowance, ({ allowance }, { id }) =>
  currentWorkbench().edit.removeAllowance(id, allowance),
);
