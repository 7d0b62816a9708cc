/** A UDP socket to one target. The target is probed before the first signal needs it, and while it does not answer. */
import { createSocket, type Socket } from 'node:dgram';
import { BlockList, isIP, isIPv6 } from 'node:net';
import { outWords } from './ip-words.js';
import { waitBefore, type Timers } from './retry.js';
import type { Side } from '@tawny-signal/core/live/line-state';

/** The time between two probes of a target that did not answer. */
const PROBE_MS = 1000;

const LOOPBACK = new BlockList();
LOOPBACK.addSubnet('127.0.0.0', 8);
LOOPBACK.addAddress('::1', 'ipv6');

/** Returns how a target is before anything came from it. On this machine, the system says at once if nobody listens. */
export function sideOfTarget(host: string | null): Side {
  if (host === null) return 'none';
  const isOwn =
    host === 'localhost' || (isIP(host) > 0 && LOOPBACK.check(host, isIPv6(host) ? 'ipv6' : 'ipv4'));
  return isOwn ? 'open' : 'unproven';
}

export interface UdpOut {
  /** @returns false while there is no socket. The bytes must not change until the socket has sent them */
  send(bytes: Uint8Array): boolean;
  /** Whether the target has this address. */
  isAt(address: string): boolean;
  close(): void;
}

export interface UdpTarget {
  host: string;
  port: number;
  /** The probe: a packet that means nothing to the receiver. Null for no probes. */
  probe: Uint8Array | null;
  /** True if `host` is a broadcast address. */
  everyone?: boolean;
}

/**
 * @param say is told what is wrong with the target; null if nothing is
 * @param proven is called when the target has shown that it is there: it has sent something, or no longer refuses
 */
export function openUdpOut(
  { host, port, probe, everyone = false }: UdpTarget,
  say: (words: string | null, tryInMs?: number) => void,
  proven: () => void,
  timers: Timers,
): UdpOut {
  let current: Socket | null = null;
  let out: Socket | null = null;
  let refusedAt = -Infinity;
  let asking = false;
  /** Only a machine that is there can refuse. */
  let isThere = false;
  let closed = false;

  function connect(tries: number): void {
    const socket = createSocket(isIPv6(host) ? 'udp6' : 'udp4');
    current = socket;
    socket.on('message', proven);
    socket.on('error', (error: NodeJS.ErrnoException) => {
      // Whatever the cause, for example an unplugged network, the target is probed until it answers.
      isThere ||= error.code === 'ECONNREFUSED';
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

  /** The other machine has answered that its port is closed. It is probed each second until it no longer does. */
  function refused(words: string): void {
    refusedAt = performance.now();
    say(words, PROBE_MS);
    if (!asking) timers.later(PROBE_MS, ask);
    asking = true;
  }

  /** Without probes, the next packets show whether the trouble is over. */
  function ask(): void {
    asking = true;
    const askedAt = performance.now();
    // A refusal arrives as an error event; a missing network is reported here.
    if (probe)
      out?.send(probe, (error: NodeJS.ErrnoException | null) => {
        if (error) refused(outWords(host, port, error.code));
      });
    timers.later(PROBE_MS, () => {
      asking = false;
      if (refusedAt >= askedAt) return ask();
      if (isThere) proven();
      say(null);
    });
  }

  connect(0);
  return {
    send(bytes) {
      if (!out) return false;
      out.send(bytes);
      return true;
    },
    isAt: (address) => !closed && out?.remoteAddress().address === address,
    close() {
      closed = true;
      out = null;
      current?.close();
      current = null;
    },
  };
}
