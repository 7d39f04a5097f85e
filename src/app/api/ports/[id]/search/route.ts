import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.search, ({ words, twin }, { id }) => currentWorkbench().search(id, words, twin));
