/**
 * OSC over TCP, framed by SLIP or by length. Connects to its target, and hears what comes back on that connection;
 * where a port is given, others may connect to it too.
 */
import { connect as connectTcp, createServer, type Server, type Socket } from 'node:net';
import { createDeframer, frame, type Framing } from '@tawny-signal/core/osc/framing';
import { encodeOsc } from '@tawny-signal/core/osc/packet';
import { waiting, type LineDriver, type LineListener, type LineOf } from './driver.js';
import { outWords } from './ip-words.js';
import { createListenTrouble } from './listening.js';
import { createOscIn } from './osc-in.js';
import { createTimers, waitBefore } from './retry.js';
import { createTroubles } from './troubles.js';
import { createGate, isHttp, strangerWords } from './who-may.js';
import { inSlices } from '../intake.js';

/** A target with more unread bytes than this gets nothing until it has read them. Signals are not queued. */
const BEHIND_BYTES = 1 << 18;
const MOST_CLIENTS = 32;

/** The bytes that a SLIP stream can begin with: END, or without it the / of a message or the # of a bundle. */
const SLIP_BEGINS = [0xc0, 0x2f, 0x23];
const mayBegin = (framing: Framing, first: number): boolean =>
  framing === 'length' || SLIP_BEGINS.includes(first);

export function openOscTcp(line: LineOf<'osc-tcp'>, listener: LineListener): LineDriver {
  const { say } = createTroubles<'connection' | 'behind'>(
    listener,
    waiting(`Connecting to ${line.host}:${line.port}.`),
    { in: 'open', out: 'open' },
    // Without a port to listen on, everything that is heard comes back on the connection.
    { connection: line.listenPort === null ? ['in', 'out'] : ['out'], behind: ['out'] },
  );
  const timers = createTimers();
  const into = createOscIn(listener, timers);
  const mayHear = createGate(line.hearFrom);
  const listenTrouble = createListenTrouble('tcp', (words, wait) => say('in', words, wait));
  const clients = new Set<Socket>();
  let target: Socket | null = null;
  let connected = false;
  let behind = false;
  let server: Server | null = null;
  let closed = false;

  /** What comes in on a connection, ours or another's. */
  function hearOn(socket: Socket): void {
    const deframer = createDeframer(line.framing, {
      packet: (packet) => into.hear(packet),
      bad(reason, bytes, lost) {
        listener.bad(`Not OSC in a stream: ${reason}. Is it framed the other way?`, bytes);
        if (lost) socket.destroy();
      },
    });
    let first = true;
    socket.on('data', (given) => {
      const bytes = given as Buffer;
      // Any web page can make a browser send a request here. It must not play the show.
      if (first && (isHttp(bytes) || !mayBegin(line.framing, bytes[0]!))) {
        const what = isHttp(bytes) ? 'A web page’s request' : 'A stream that does not begin with OSC';
        listener.bad(`${what}: the connection was closed.`, bytes);
        socket.destroy();
        return;
      }
      first = false;
      listener.take(
        inSlices(bytes, (part) => deframer.feed(part)),
        bytes.length,
      );
      if (listener.holdUp(() => socket.resume())) socket.pause();
    });
  }

  function connect(tries: number): void {
    const socket = connectTcp({ host: line.host, port: line.port, noDelay: true });
    target = socket;
    let failures = tries + 1;
    hearOn(socket);
    socket.on('connect', () => {
      connected = true;
      failures = 0;
      say('connection', null);
    });
    socket.on('drain', () => {
      if (behind) say('behind', null);
      behind = false;
    });
    socket.on('error', (error: NodeJS.ErrnoException) =>
      say('connection', outWords(line.host, line.port, error.code), waitBefore(failures)),
    );
    socket.on('close', (hadError) => {
      if (closed) return;
      if (connected && !hadError)
        say('connection', `${line.host}:${line.port} closed the connection.`, waitBefore(failures));
      connected = false;
      if (behind) say('behind', null);
      behind = false;
      timers.later(waitBefore(failures), () => connect(failures));
    });
  }

  function listen(port: number, tries: number): void {
    const listening = createServer({ noDelay: true }, (socket) => {
      if (!mayHear(socket.remoteAddress)) {
        listener.bad(strangerWords(socket.remoteAddress), new Uint8Array(0));
        socket.destroy();
        return;
      }
      clients.add(socket);
      hearOn(socket);
      socket.on('error', () => undefined); // the close that follows is enough
      socket.on('close', () => clients.delete(socket));
    });
    listening.maxConnections = MOST_CLIENTS;
    listening.on('error', (error: NodeJS.ErrnoException) => {
      const wait = listenTrouble.failed(port, line.listenHost, error.code, tries);
      timers.later(wait, () => listen(port, tries + 1));
    });
    listening.listen({ port, host: line.listenHost, exclusive: true }, () => {
      listenTrouble.over();
      if (tries > 0) say('in', null);
    });
    server = listening;
  }

  connect(0);
  if (line.listenPort !== null) listen(line.listenPort, 0);

  return {
    send(signal) {
      if (!target || !connected || signal.kind !== 'osc') return null;
      if (target.writableLength > BEHIND_BYTES) {
        behind = true;
        say('behind', `${line.host}:${line.port} is too slow: messages to it are dropped.`);
        return null;
      }
      const packet = encodeOsc(signal);
      target.write(frame(line.framing, packet));
      return packet;
    },
    close() {
      closed = true;
      timers.stop();
      listenTrouble.over();
      target?.destroy();
      server?.close();
      for (const client of clients) client.destroy();
    },
  };
}
