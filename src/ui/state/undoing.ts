import { ROUTES } from "@/api/routes";
import { ask } from "@/ui/api";

/** Undo and redo of one snapshot, as a notice offers them; `after` runs once the files are changed. */
export const turning = (port: string, id: string, after: () => void) => {
  const turn = (route: typeof ROUTES.undo | typeof ROUTES.redo) => async () => {
    await ask(route, { id }, { port });
    after();
  };
  return { undo: turn(ROUTES.undo), redo: turn(ROUTES.redo) };
};
