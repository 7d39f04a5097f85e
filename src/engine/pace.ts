/**
 * Yields to people. A check shares the main thread with the web server: work in many pieces awaits `pace` between them,
 * so that a page does not wait for a hundred thousand cases.
 */

/** Pause after each piece of work while a request is waiting. */
const PAUSE_MS = 20;

let waiting = 0;

/** Notes that a request came in; the returned function notes that it was answered. */
export function noteRequest(): () => void {
  waiting++;
  let isOver = false;
  return () => {
    if (!isOver) waiting--;
    isOver = true;
  };
}

/** Whether a web request is waiting. */
export const isSomebodyWaiting = (): boolean => waiting > 0;

/** Calls back when the next piece of work may begin: in the next turn, or after a pause while a request is waiting. */
export function afterPause(next: () => void): void {
  if (isSomebodyWaiting()) setTimeout(next, PAUSE_MS);
  else setImmediate(next);
}

/** The same as a promise. */
export const giveWay = (): Promise<void> => new Promise(afterPause);
