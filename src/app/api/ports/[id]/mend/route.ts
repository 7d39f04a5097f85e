import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.mend, (wanted, { id, signal }) =>
  currentWorkbench().exploring.mend(id, wanted, signal),
);

export const PUT = handle(ROUTES.takeMend, ({ token }, { id }) => currentWorkbench().exploring.take(id, token));
