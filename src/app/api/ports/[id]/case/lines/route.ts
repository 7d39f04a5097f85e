import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.caseLines, (given, { id, signal }) =>
  currentWorkbench().caseLines(id, given.case, given.twin, signal),
);
