import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.editor, () => currentWorkbench().editor.view());

export const PUT = handle(ROUTES.setEditor, ({ command }) => currentWorkbench().editor.set(command));
