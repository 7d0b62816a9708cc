/** A UDP socket to one target, which is asked whether it is there: before the first signal needs it, and while it is not. */
import { createSocket, type Socket } from 'node:dgram';
import { isIPv6 } from 'node:net';
import { outWords } from './ip-words.js';
import { waitBefore, type Timers } from './retry.js';

/** How often a target that did not answer is asked again. */
const PROBE_MS = 1000;

export interface UdpOut {
  /** @returns false while there is no socket. The bytes must stay as they are until the socket has taken them. */
  send(bytes: Uint8Array): boolean;
  close(): void;
}

export interface UdpTarget {
  host: string;
  port: number;
  /** What is sent to ask: a packet that says nothing to whoever hears it. Null: nobody is asked. */
  probe: Uint8Array | null;
  /** `host` is for everybody on a network. */
  everyone?: boolean;
}

/** @param say what is wrong with the target, or null that nothing is */
export function openUdpOut(
  { host, port, probe, everyone = false }: UdpTarget,
  say: (words: string | null, tryInMs?: number) => void,
  timers: Timers,
): UdpOut {
  let current: Socket | null = null;
  let out: Socket | null = null;
  let refusedAt = -Infinity;
  let asking = false;
  let closed = false;

  function connect(tries: number): void {
    const socket = createSocket(isIPv6(host) ? 'udp6' : 'udp4');
    current = socket;
    socket.on('error', (error: NodeJS.ErrnoException) => {
      // Whatever it is, an unplugged network too: it is asked until it is over.
      refused(outWords(host, port, error.code));
    });
    // Its listener is told of success; its types do not say that it is told of failure too.
    socket.connect(port, host, (error?: NodeJS.ErrnoException) => {
      if (closed) return;
      if (error) {
        const wait = waitBefore(tries);
        say(outWords(host, port, error.code), wait);
        socket.close();
        current = null;
        timers.later(wait, () => connect(tries + 1));
        return;
      }
      if (everyone) socket.setBroadcast(true);
      out = socket;
      say(null);
      ask();
    });
  }

  /** The other machine said that its port is closed. It is asked each second until it says so no more. */
  function refused(words: string): void {
    refusedAt = performance.now();
    say(words, PROBE_MS);
    if (!asking) timers.later(PROBE_MS, ask);
    asking = true;
  }

  /** Where nobody can be asked, what is sent meanwhile says whether it is over. */
  function ask(): void {
    asking = true;
    const askedAt = performance.now();
    // A refusal comes as an error event; that there is no network comes here.
    if (probe)
      out?.send(probe, (error: NodeJS.ErrnoException | null) => {
        if (error) refused(outWords(host, port, error.code));
      });
    timers.later(PROBE_MS, () => {
      asking = false;
      if (refusedAt < askedAt) say(null);
      else ask();
    });
  }

  connect(0);
  return {
    send(bytes) {
      if (!out) return false;
      out.send(bytes);
      return true;
    },
    close() {
      closed = true;
      out = null;
      current?.close();
      current = null;
    },
  };
}
