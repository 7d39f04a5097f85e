import type { WithId } from "@/app/api/respond";
import type { PortEvent } from "@/core/progress/views";
import { currentWorkbench } from "@/service/current";

export const dynamic = "force-dynamic";

/** Server-sent events of one port. The first one tells whether a check is running. */
export async function GET(request: Request, { params }: WithId): Promise<Response> {
  const { id } = await params;
  const workbench = currentWorkbench();
  const encoder = new TextEncoder();
  let end = () => {};
  const stream = new ReadableStream({
    start(controller) {
      const send = (event: PortEvent | { type: "hello"; running: boolean }) =>
        controller.enqueue(encoder.encode(`data: ${JSON.stringify(event)}\n\n`));
      const unsubscribe = workbench.news.subscribe(id, send);
      // A comment now and then keeps the connection from being taken for a dead one.
      const beat = setInterval(() => controller.enqueue(encoder.encode(": still here\n\n")), 15_000);
      end = () => {
        clearInterval(beat);
        unsubscribe();
      };
      request.signal.addEventListener("abort", end);
      send({ type: "hello", running: workbench.runs.isRunning(id) });
    },
    cancel: () => end(),
  });
  return new Response(stream, { headers: { "content-type": "text/event-stream", "cache-control": "no-store" } });
}
