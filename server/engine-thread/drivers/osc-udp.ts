/** OSC over UDP: one socket to send from, and one to hear on where a port is given. */
import { createSocket, type Socket } from 'node:dgram';
import { isIPv6 } from 'node:net';
import {
  decodeOsc,
  encodeOscBundle,
  encodeOscInto,
  OscError,
  oscLength,
} from '@tawny-signal/core/osc/packet';
import { OPEN, trouble, type LineDriver, type LineListener, type LineOf } from './driver.js';

/** A packet waits here until the socket has taken it; by the time its bytes are written over, it has long left. */
const RING_BYTES = 1 << 20;
/** How often a target that did not answer is asked again. */
const PROBE_MS = 1000;
const REOPEN_MS = [250, 500, 1000, 2000, 4000];
/** An empty bundle says nothing to whoever hears it (OSC 1.0: a bundle has "zero or more" elements). */
const PROBE = encodeOscBundle([]);

type Trouble = 'out' | 'in';

export function openOscUdp(line: LineOf<'osc-udp'>, listener: LineListener): LineDriver {
  const troubles = new Map<Trouble, string>();
  const timers = new Set<NodeJS.Timeout>();
  const sockets = new Set<Socket>();
  const ring = Buffer.alloc(RING_BYTES);
  const ringView = new DataView(ring.buffer, ring.byteOffset, ring.byteLength);
  let ringAt = 0;
  let out: Socket | null = null;
  let refusedAt = -Infinity;
  let closed = false;

  function say(which: Trouble, words: string | null): void {
    if ((troubles.get(which) ?? null) === words) return;
    if (words === null) troubles.delete(which);
    else troubles.set(which, words);
    listener.state(troubles.size === 0 ? OPEN : trouble([...troubles.values()].join(' ')));
  }

  function later(ms: number, act: () => void): void {
    const timer = setTimeout(() => {
      timers.delete(timer);
      if (!closed) act();
    }, ms);
    timers.add(timer);
  }

  function drop(socket: Socket): void {
    sockets.delete(socket);
    socket.close();
  }

  function connect(tries: number): void {
    const socket = createSocket(isIPv6(line.host) ? 'udp6' : 'udp4');
    sockets.add(socket);
    socket.on('error', (error: NodeJS.ErrnoException) => {
      if (error.code === 'ECONNREFUSED') refused();
      else say('out', outWords(line, error.code));
    });
    // Its listener is told of success; its types do not say that it is told of failure too.
    socket.connect(line.port, line.host, (error?: NodeJS.ErrnoException) => {
      if (closed) return;
      if (error) {
        say('out', outWords(line, error.code));
        drop(socket);
        later(REOPEN_MS[Math.min(tries, REOPEN_MS.length - 1)]!, () => connect(tries + 1));
        return;
      }
      out = socket;
      say('out', null);
      // Whether anything listens there is known before the first signal needs it.
      probe();
    });
  }

  /** The other machine said that its port is closed. Asks again each second until it says so no more. */
  function refused(): void {
    const first = !troubles.has('out');
    refusedAt = performance.now();
    say(
      'out',
      `Nothing is listening at ${line.host}:${line.port}. Start the program there, or check its port.`,
    );
    if (first) later(PROBE_MS, probe);
  }

  function probe(): void {
    if (!out) return;
    const asked = performance.now();
    out.send(PROBE, () => {
      // A refusal comes as an error event.
    });
    later(PROBE_MS, () => {
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
      later(REOPEN_MS[Math.min(tries, REOPEN_MS.length - 1)]!, () => listen(port, tries + 1));
    });
    socket.on('message', hear);
    socket.bind({ port, address: '127.0.0.1', exclusive: true }, () => say('in', null));
  }

  function hear(bytes: Buffer): void {
    let decoded;
    try {
      decoded = decodeOsc(bytes);
    } catch (error) {
      if (!(error instanceof OscError)) throw error;
      listener.bad(`Not OSC: ${error.message}.`, bytes);
      return;
    }
    for (const { signal } of decoded) listener.heard(signal, bytes);
  }

  listener.state(OPEN);
  connect(0);
  if (line.listenPort !== null) listen(line.listenPort, 0);

  return {
    send(signal) {
      if (!out || signal.kind !== 'osc') return null;
      const length = oscLength(signal);
      if (length > 65_507) return null; // the most that a UDP packet holds
      if (ringAt + length > RING_BYTES) ringAt = 0;
      encodeOscInto(signal, ring, ringView, ringAt);
      const bytes = ring.subarray(ringAt, ringAt + length);
      ringAt += length;
      out.send(bytes);
      return bytes;
    },
    close() {
      closed = true;
      for (const timer of timers) clearTimeout(timer);
      for (const socket of sockets) socket.close();
      sockets.clear();
      out = null;
    },
  };
}

function outWords(line: LineOf<'osc-udp'>, code: string | undefined): string {
  switch (code) {
    case 'ENOTFOUND':
    case 'EAI_AGAIN':
      return `No machine is called ${line.host}. Check the name, or write its address.`;
    case 'ENETUNREACH':
    case 'EHOSTUNREACH':
      return `This machine has no way to ${line.host}. Check the network cable and the address.`;
    case 'EACCES':
      return `${line.host} is an address for everybody, which this line may not send to. Write one machine’s address.`;
    default:
      return `Can’t send to ${line.host}:${line.port} (${code ?? 'unknown reason'}). Trying again.`;
  }
}

function inWords(port: number, code: string | undefined): string {
  if (code === 'EADDRINUSE')
    return `Port ${port} is in use by another program on this machine. Close that program, or choose another port.`;
  if (code === 'EACCES') return `Port ${port} needs an administrator. Choose one above 1023.`;
  return `Can’t listen on port ${port} (${code ?? 'unknown reason'}). Trying again.`;
}
