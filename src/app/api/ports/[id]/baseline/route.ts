import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.baseline, (_, { id }) => currentWorkbench().baseline(id));

export const POST = handle(ROUTES.startBaseline, (_, { id }) => currentWorkbench().runs.startBaseline(id));
