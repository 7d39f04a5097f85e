import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.ports, () => currentWorkbench().listPorts());

export const POST = handle(ROUTES.addPort, ({ folder }) => currentWorkbench().addBrowsed(folder));
