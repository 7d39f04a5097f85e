import { ROUTES } from "@/api/routes";
import { handle } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = handle(ROUTES.phrasebook, ({ twin }, { id }) => currentWorkbench().making.phrasebook(id, twin));

export const POST = handle(ROUTES.addPhrase, ({ phrase }, { id }) => currentWorkbench().making.addPhrase(id, phrase));

export const PUT = handle(ROUTES.exceptPlace, (wanted, { id }) => currentWorkbench().making.exceptPlace(id, wanted));
