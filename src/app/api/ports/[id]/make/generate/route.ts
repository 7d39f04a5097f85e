import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.generate, (wanted, { id, signal }) =>
  currentWorkbench().exploring.generate(id, wanted, signal),
);

export const DELETE = handle(ROUTES.finishMaking, async (_nothing, { id }) => currentWorkbench().exploring.finish(id));
