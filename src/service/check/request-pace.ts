/** Makes background work pause while a web request is waiting. */
import { noteRequest } from "@/engine/pace";

/** Notes a request until the returned function is called. A stream of events waits for nothing and is not noted. */
export const requestStarted = (address: string): (() => void) =>
  /\/events(\?|$)/.test(address) ? () => undefined : noteRequest();
