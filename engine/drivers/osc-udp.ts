/** OSC over UDP: one socket to send from, and one to hear on where a port is given. */
import { createSocket, type Socket } from 'node:dgram';
import { isIPv6 } from 'node:net';
import { encodeOscBundle, encodeOscInto, oscLength } from '@tawny-signal/core/osc/packet';
import { OPEN, tellBad, type LineDriver, type LineListener, type LineOf } from './driver.js';
import { createOscIn } from './osc-in.js';
import { createTimers } from './retry.js';
import { createTroubles } from './troubles.js';
import { createListenTrouble } from './listening.js';
import { openUdpOut, sideOfTarget } from './udp-out.js';
import { createGate, strangerWords } from './who-may.js';

/** The size of the ring of packets that are being sent. Packets are long gone before their bytes are overwritten. */
const RING_BYTES = 1 << 20;
/** The size of the receive buffer that is requested, where packets wait while the engine is busy. The system may give less. */
const RECEIVE_BYTES = 1 << 22;
/** The largest UDP packet. */
const PACKET_BYTES = 65_507;
/** An empty bundle says nothing to whoever hears it (OSC 1.0: a bundle has "zero or more" elements). */
const PROBE = encodeOscBundle([]);

export function openOscUdp(line: LineOf<'osc-udp'>, listener: LineListener): LineDriver {
  const { say, proven } = createTroubles(listener, OPEN, {
    in: line.listenPort === null ? 'none' : 'open',
    out: sideOfTarget(line.host),
  });
  const timers = createTimers();
  const into = createOscIn(listener, timers);
  const mayHear = createGate(line.hearFrom);
  const ring = Buffer.alloc(RING_BYTES);
  const ringView = new DataView(ring.buffer, ring.byteOffset, ring.byteLength);
  const { host, port } = line;
  const out = openUdpOut(
    { host, port, probe: PROBE },
    (words, wait) => say('out', words, wait),
    proven,
    timers,
  );
  const listenTrouble = createListenTrouble('udp', (words, wait) => say('in', words, wait));
  /** Looking up the target for each packet would cost too much. */
  let isProven = sideOfTarget(line.host) === 'open';
  let ringAt = 0;
  let hearing: Socket | null = null;
  /** The last sender, if it is the one that is answered. */
  let sender: { address: string; port: number } | null = null;

  function listen(listenPort: number, tries: number): void {
    const type = isIPv6(line.listenHost) ? 'udp6' : 'udp4';
    const socket = createSocket({ type, recvBufferSize: RECEIVE_BYTES });
    hearing = socket;
    socket.on('error', (error: NodeJS.ErrnoException) => {
      const wait = listenTrouble.failed(listenPort, line.listenHost, error.code, tries);
      hearing = null;
      socket.close();
      timers.later(wait, () => listen(listenPort, tries + 1));
    });
    socket.on('message', (bytes, from) => {
      if (!mayHear(from.address)) return tellBad(listener, strangerWords(from.address), bytes);
      if (line.answer) sender = from;
      if (isProven) return into.hear(bytes);
      isProven = line.answer || out.isAt(from.address);
      if (isProven) proven();
      into.hear(bytes);
    });
    socket.bind({ port: listenPort, address: line.listenHost, exclusive: true }, () => {
      listenTrouble.over();
      say('in', null);
    });
  }

  if (line.listenPort !== null) listen(line.listenPort, 0);

  return {
    send(signal) {
      if (signal.kind !== 'osc') return null;
      const length = oscLength(signal);
      if (length > PACKET_BYTES) return null;
      if (ringAt + length > RING_BYTES) ringAt = 0;
      encodeOscInto(signal, ring, ringView, ringAt);
      const bytes = ring.subarray(ringAt, ringAt + length);
      ringAt += length;
      if (sender && hearing) {
        // Whether the sender is still there is unknown.
        hearing.send(bytes, sender.port, sender.address, () => undefined);
        return bytes;
      }
      return out.send(bytes) ? bytes : null;
    },
    close() {
      timers.stop();
      listenTrouble.over();
      out.close();
      hearing?.close();
      hearing = null;
    },
  };
}
