import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.journal, (_, { id }) => currentWorkbench().making.journal(id));

export const POST = handle(ROUTES.addEntry, (entry, { id }) => currentWorkbench().making.addEntry(id, entry));

export const PUT = handle(ROUTES.closeEntry, (wanted, { id }) => currentWorkbench().making.closeEntry(id, wanted));
