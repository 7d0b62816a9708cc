/**
 * Asks a connection again and again whether it is still there (WebSocket ping and pong, RFC 6455, section 5.5.2). A machine that has left the network
 * says nothing, and what is held through it would sound on.
 */
import type { WebSocket } from 'ws';

const ASK_MS = 1000;
/** So many questions in a row without an answer, and it is gone. They are counted, so that our own standstill counts as one. */
const MOST_UNANSWERED = 5;

/** @param answered is called with how long a question and its answer took, in ms */
export function watchConnection(socket: WebSocket, answered: (tripMs: number) => void): void {
  let askedAt = 0;
  let unanswered = 0;
  const asking = setInterval(() => {
    if (unanswered >= MOST_UNANSWERED) return socket.terminate();
    if (unanswered === 0) askedAt = performance.now();
    unanswered++;
    socket.ping();
  }, ASK_MS).unref();
  socket.on('pong', () => {
    if (unanswered > 0) answered(performance.now() - askedAt);
    unanswered = 0;
  });
  socket.on('close', () => clearInterval(asking));
}
