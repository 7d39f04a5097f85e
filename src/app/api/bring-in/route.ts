import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const POST = handle(ROUTES.inspect, (source) => currentWorkbench().bringIn.inspect(source));

export const DELETE = handle(ROUTES.forgetDraft, ({ token }) => currentWorkbench().bringIn.forget(token));
