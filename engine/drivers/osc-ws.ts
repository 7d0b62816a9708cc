/**
 * OSC over WebSocket (RFC 6455): one packet a binary message. For visuals that run in a browser: they connect to us, or we to
 * a program that listens. What is sent goes to all who are connected.
 */
import type { IncomingMessage } from 'node:http';
import WebSocket, { WebSocketServer } from 'ws';
import { encodeOsc } from '@tawny-signal/core/osc/packet';
import { OPEN, tellBad, type LineDriver, type LineListener, type LineOf } from './driver.js';
import { outWords } from './ip-words.js';
import { createListenTrouble } from './listening.js';
import { createOscIn } from './osc-in.js';
import { createTimers, waitBefore } from './retry.js';
import { createTroubles } from './troubles.js';
import { createGate, strangerWords } from './who-may.js';

const MOST_CLIENTS = 32;
/** A page with more unread bytes than this gets nothing until it has read them. */
const BEHIND_BYTES = 1 << 18;
/** The largest packet, as in UDP. */
const MOST_BYTES = 65_507;

type WsLine = LineOf<'osc-ws'>;

/** Returns why a page may not connect; null if it may. @param page its origin; undefined for a program that is no browser */
function whyNotPage(line: WsLine, page: string | undefined): string | null {
  if (page === undefined || line.pages.includes(page)) return null;
  if (page !== 'null') return `From a page of ${page}. To allow it, add it under “Pages that may connect”.`;
  return line.namelessPages
    ? null
    : 'From a page without an address. To allow those, switch them on for this line.';
}

export function openOscWs(line: WsLine, listener: LineListener): LineDriver {
  const { say } = createTroubles(listener, OPEN, { in: 'open', out: 'open' });
  const listenTrouble = createListenTrouble('tcp', (words, wait) => say('in', words, wait));
  const timers = createTimers();
  const into = createOscIn(listener, timers);
  const mayHear = createGate(line.hearFrom);
  const peers = new Set<WebSocket>();
  let server: WebSocketServer | null = null;
  let closed = false;

  function join(socket: WebSocket): void {
    peers.add(socket);
    socket.on('message', (data, isBinary) => {
      const bytes = Buffer.isBuffer(data) ? data : Buffer.concat(data as Buffer[]);
      if (isBinary) into.hear(bytes);
      else tellBad(listener, 'Text on a WebSocket; OSC comes as binary messages.', bytes);
      if (!socket.isPaused && listener.holdUp(() => socket.resume())) socket.pause();
    });
    socket.on('close', () => peers.delete(socket));
  }

  /** Returns why a client may not connect; null if it may. */
  function whyNot({ socket, headers, url }: IncomingMessage): string | null {
    if (!mayHear(socket.remoteAddress)) return strangerWords(socket.remoteAddress);
    if ((url ?? '/') !== `/${line.secret}`)
      return 'Somebody connected without the secret part of the address. It is shown where this line is open, under Lines.';
    return whyNotPage(line, headers.origin);
  }

  function connect(host: string, tries: number): void {
    const socket = new WebSocket(`ws://${host.includes(':') ? `[${host}]` : host}:${line.port}`, {
      maxPayload: MOST_BYTES,
      perMessageDeflate: false,
    });
    let failures = tries + 1;
    socket.on('open', () => {
      failures = 0;
      join(socket);
      say('out', null);
    });
    socket.on('error', (error: NodeJS.ErrnoException) => {
      if (!closed) say('out', outWords(host, line.port, error.code), waitBefore(failures));
    });
    socket.on('close', () => {
      if (closed) return;
      if (failures === 0) say('out', `${host}:${line.port} closed the connection.`, waitBefore(0));
      timers.later(waitBefore(failures), () => connect(host, failures));
    });
    target = socket;
  }

  function listen(port: number, tries: number): void {
    const listening = new WebSocketServer({
      port,
      host: line.listenHost,
      maxPayload: MOST_BYTES,
      perMessageDeflate: false,
    });
    listening.on('connection', (socket, request) => {
      socket.on('error', () => undefined); // the close that follows is enough
      const why = whyNot(request);
      if (why !== null) listener.bad(why, new Uint8Array(0));
      if (why !== null || peers.size >= MOST_CLIENTS) socket.terminate();
      else join(socket);
    });
    listening.on('error', (error: NodeJS.ErrnoException) => {
      const wait = listenTrouble.failed(port, line.listenHost, error.code, tries);
      timers.later(wait, () => listen(port, tries + 1));
    });
    listening.on('listening', () => {
      listenTrouble.over();
      say('in', null);
    });
    server = listening;
  }

  let target: WebSocket | null = null;
  if (line.host !== null) connect(line.host, 0);
  if (line.listenPort !== null) listen(line.listenPort, 0);

  return {
    send(signal) {
      if (signal.kind !== 'osc' || peers.size === 0) return null;
      const packet = encodeOsc(signal);
      let left = false;
      for (const peer of peers) {
        if (peer.readyState !== WebSocket.OPEN || peer.bufferedAmount > BEHIND_BYTES) continue;
        peer.send(packet);
        left = true;
      }
      return left ? packet : null;
    },
    close() {
      closed = true;
      timers.stop();
      listenTrouble.over();
      target?.terminate();
      for (const peer of peers) peer.terminate();
      server?.close();
    },
  };
}
