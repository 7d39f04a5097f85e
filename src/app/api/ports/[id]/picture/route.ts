import { PICTURE_QUERY } from "@/api/routes";
import { readQuery, respondWith, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

export const GET = (request: Request, { params }: WithId) =>
  respondWith({ "content-type": "image/png" }, async () =>
    currentWorkbench().picture((await params).id, readQuery(request, PICTURE_QUERY)),
  );
