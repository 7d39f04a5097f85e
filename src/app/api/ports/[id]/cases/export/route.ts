import { query, respondWith, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = (request: Request, { params }: WithId) =>
  respondWith(
    { "content-type": "application/jsonl", "content-disposition": 'attachment; filename="cases.jsonl"' },
    async () =>
      currentWorkbench().exportCases((await params).id, query(request, "words") ?? "", query(request, "twin")),
  );
