import { z } from "zod";
import { respondWith, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/current";

const wanted = z.object({
  caseId: z.string(),
  twin: z.string(),
  file: z.string(),
  side: z.enum(["original", "twin", "difference"]),
});

export const GET = (request: Request, { params }: WithId) =>
  respondWith({ "content-type": "image/png" }, async () =>
    currentWorkbench().picture((await params).id, wanted.parse(Object.fromEntries(new URL(request.url).searchParams))),
  );
