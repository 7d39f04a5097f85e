import { ANSWER_QUERY } from "@/api/routes";
import { readQuery, respondWith, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = (request: Request, { params }: WithId) =>
  respondWith({ "content-type": "text/plain; charset=utf-8", "x-content-type-options": "nosniff" }, async () =>
    currentWorkbench().answer((await params).id, readQuery(request, ANSWER_QUERY)),
  );
