import type { PortEvent } from "@/api/port-event";
import { answer, type WithId } from "@/app/api/respond";
import { currentWorkbench } from "@/service/server/current";
import type { Workbench } from "@/service/server/workbench";

export const dynamic = "force-dynamic";

/** Streams the events of one port as server-sent events; the first states whether a check is running. */
export const GET = (request: Request, { params }: WithId) =>
  answer(async () => {
    const { id } = await params;
    const workbench = currentWorkbench();
    await workbench.mustHave(id);
    return follow(workbench, id, request.signal);
  });

function follow(workbench: Workbench, id: string, signal: AbortSignal): Response {
  const encoder = new TextEncoder();
  let end = () => {};
  const stream = new ReadableStream({
    start(controller) {
      const send = (event: PortEvent) => controller.enqueue(encoder.encode(`data: ${JSON.stringify(event)}\n\n`));
      const unsubscribe = workbench.news.subscribe(id, send);
      // A comment now and then keeps the connection from being taken for a dead one.
      const beat = setInterval(() => controller.enqueue(encoder.encode(": still here\n\n")), 15_000);
      end = () => {
        clearInterval(beat);
        unsubscribe();
      };
      signal.addEventListener("abort", end);
      send({ type: "hello", running: workbench.runs.isRunning(id) });
    },
    cancel: () => end(),
  });
  return new Response(stream, { headers: { "content-type": "text/event-stream", "cache-control": "no-store" } });
}
