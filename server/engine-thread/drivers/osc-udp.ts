/** OSC over UDP: one socket to send from, and one to hear on where a port is given. */
import { createSocket, type Socket } from 'node:dgram';
import { isIPv6 } from 'node:net';
import { encodeOscBundle, encodeOscInto, oscLength } from '@tawny-signal/core/osc/packet';
import { OPEN, type LineDriver, type LineListener, type LineOf } from './driver.js';
import { inWords, outWords } from './ip-words.js';
import { createOscIn } from './osc-in.js';
import { createTimers, waitBefore } from './retry.js';
import { createTroubles } from './troubles.js';

/** A packet waits here until the socket has taken it; by the time its bytes are written over, it has long left. */
const RING_BYTES = 1 << 20;
/** The most that a UDP packet holds. */
const PACKET_BYTES = 65_507;
/** How often a target that did not answer is asked again. */
const PROBE_MS = 1000;
/** An empty bundle says nothing to whoever hears it (OSC 1.0: a bundle has "zero or more" elements). */
const PROBE = encodeOscBundle([]);

export function openOscUdp(line: LineOf<'osc-udp'>, listener: LineListener): LineDriver {
  const say = createTroubles<'out' | 'in'>(listener, OPEN);
  const timers = createTimers();
  const into = createOscIn(listener, timers);
  const sockets = new Set<Socket>();
  const ring = Buffer.alloc(RING_BYTES);
  const ringView = new DataView(ring.buffer, ring.byteOffset, ring.byteLength);
  let ringAt = 0;
  let out: Socket | null = null;
  let refusedAt = -Infinity;
  let probing = false;
  let closed = false;

  function drop(socket: Socket): void {
    sockets.delete(socket);
    socket.close();
  }

  function connect(tries: number): void {
    const socket = createSocket(isIPv6(line.host) ? 'udp6' : 'udp4');
    sockets.add(socket);
    socket.on('error', (error: NodeJS.ErrnoException) => {
      say('out', outWords(line.host, line.port, error.code));
      if (error.code === 'ECONNREFUSED') refused();
    });
    // Its listener is told of success; its types do not say that it is told of failure too.
    socket.connect(line.port, line.host, (error?: NodeJS.ErrnoException) => {
      if (closed) return;
      if (error) {
        say('out', outWords(line.host, line.port, error.code));
        drop(socket);
        timers.later(waitBefore(tries), () => connect(tries + 1));
        return;
      }
      out = socket;
      say('out', null);
      // Whether anything listens there is known before the first signal needs it.
      probe();
    });
  }

  /** The other machine said that its port is closed. It is asked each second until it says so no more. */
  function refused(): void {
    refusedAt = performance.now();
    if (!probing) timers.later(PROBE_MS, probe);
    probing = true;
  }

  function probe(): void {
    probing = true;
    const asked = performance.now();
    // A refusal comes as an error event.
    out?.send(PROBE, () => undefined);
    timers.later(PROBE_MS, () => {
      probing = false;
      if (refusedAt < asked) say('out', null);
      else probe();
    });
  }

  function listen(port: number, tries: number): void {
    const socket = createSocket('udp4');
    sockets.add(socket);
    socket.on('error', (error: NodeJS.ErrnoException) => {
      say('in', inWords(port, error.code));
      drop(socket);
      timers.later(waitBefore(tries), () => listen(port, tries + 1));
    });
    socket.on('message', (bytes) => into.hear(bytes));
    socket.bind({ port, address: '127.0.0.1', exclusive: true }, () => say('in', null));
  }

  connect(0);
  if (line.listenPort !== null) listen(line.listenPort, 0);

  return {
    send(signal) {
      if (!out || signal.kind !== 'osc') return null;
      const length = oscLength(signal);
      if (length > PACKET_BYTES) return null;
      if (ringAt + length > RING_BYTES) ringAt = 0;
      encodeOscInto(signal, ring, ringView, ringAt);
      const bytes = ring.subarray(ringAt, ringAt + length);
      ringAt += length;
      out.send(bytes);
      return bytes;
    },
    close() {
      closed = true;
      timers.stop();
      for (const socket of sockets) socket.close();
      sockets.clear();
      out = null;
    },
  };
}
