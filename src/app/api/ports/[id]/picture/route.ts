import { z } from "zod";
import { readQuery, respondWith, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";

const wanted = z.object({
  caseId: z.string(),
  twin: z.string(),
  file: z.string(),
  side: z.enum(["original", "twin", "difference"]),
});

export const GET = (request: Request, { params }: WithId) =>
  respondWith({ "content-type": "image/png" }, async () =>
    currentWorkbench().picture((await params).id, readQuery(request, wanted)),
  );
