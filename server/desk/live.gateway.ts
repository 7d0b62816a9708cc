/**
 * The live connection: what passes goes to every browser, and what browsers and stand-ins carry comes in.
 * MIDI and batches are binary (core/live/batch), the rest is JSON (core/live/messages).
 */
import type { IncomingMessage } from 'node:http';
import { Logger } from '@nestjs/common';
import { WebSocketGateway, type OnGatewayConnection, type OnGatewayDisconnect } from '@nestjs/websockets';
import type { RawData, WebSocket } from 'ws';
import { PORT_BYTES, TIMED_HEAD, TIMED_PORT_BYTES } from '@tawny-signal/core/live/batch';
import { fromClientSchema, type FromClient, type FromServer } from '@tawny-signal/core/live/messages';
import type { Here } from '@tawny-signal/core/people/here';
import { CARRIED_NEEDS, LIVE_NEEDS } from '@tawny-signal/core/people/needs';
import { nestsDeeper } from '@tawny-signal/core/files/nesting';
import { may } from '@tawny-signal/core/people/roles';
import { isFromHere } from '../people/addresses.js';
import type { Somebody } from '../people/asking.js';
import { PeopleService } from '../people/people.service.js';
import { atMost } from './at-most.js';
import { EngineService } from './engine.service.js';
import { createLastPassed } from './last-passed.js';
import { packBatch } from './packed-batch.js';
import { serverClock } from './server-clock.js';
import { DEEPEST_STATE, isShallow } from './shallow.js';
import { watchConnection } from './still-there.js';
import { createWhoIsHere } from './who-is-here.js';

interface Client {
  id: number;
  socket: WebSocket;
  who: Somebody;
  /** The kinds of the ports that it offers, in their order. */
  carries: (keyof typeof CARRIED_NEEDS)[];
  /** The stand-in that it is; null for a browser. */
  standIn: string | null;
  /** Mappings that it holds down by hand. */
  trying: Set<string>;
  /** True for a browser on another machine, whose batches are compressed. */
  isFar: boolean;
  /** True while it shows what motions make. */
  watchesMotions: boolean;
  /** When its last invalid message was logged, and how many came since then. */
  junk: { at: number; count: number };
}

/** A browser with this much unread gets no batches until it has caught up. */
const BEHIND_BYTES = 1 << 20;
/** A browser with this much unread is disconnected. It connects again, and starts with the current state. */
const LOST_BYTES = 8 << 20;
/** The most that a browser or stand-in says at once: all the pages' forms, and MIDI of a MIB. */
const MOST_SAID = 2 << 20;
/** The longest state that a stand-in may send. */
const MOST_STATE_CHARS = 256 * 1024;
/** The longest message of somebody who carries nothing. */
const MOST_SAID_BY_OTHERS = 4096;
/** Invalid messages of a client are logged once in this time at most. */
const JUNK_MS = 1000;
/** Many may come at once, and all are told what changed of sessions, and what has passed. */
const TELL_MS = 250;
/** Closes a connection whose session has ended. The page then asks for a passphrase. */
const ENDED = 4401;

@WebSocketGateway({ path: '/live', maxPayload: MOST_SAID })
export class LiveGateway implements OnGatewayConnection<WebSocket>, OnGatewayDisconnect<WebSocket> {
  private readonly log = new Logger('live');
  private readonly clients = new Map<WebSocket, Client>();
  private readonly byId = new Map<number, Client>();
  private readonly standIns = new Map<string, unknown>();
  private lastId = 0;
  private readonly lastPassed = createLastPassed();
  /** Which pages are connected, and what is done there. */
  readonly here = createWhoIsHere((to, told) => this.sayTo(to, { t: 'here', ...told }));
  private readonly peopleChanged = atMost(TELL_MS, () => this.tellOperators());
  private readonly tellAll = atMost(TELL_MS, () => this.engine.tell({ t: 'tellAll' }));
  /** The first messages for a new browser. */
  greeting: () => FromServer[] = () => [];

  constructor(
    private readonly engine: EngineService,
    private readonly people: PeopleService,
  ) {
    people.ended = (sessionId) => this.endSession(sessionId);
    people.changed = () => this.peopleChanged();
  }

  handleConnection(socket: WebSocket, request: IncomingMessage): void {
    socket.on('error', () => undefined); // the close that follows says it
    const who = this.people.identify(request);
    // The door let it in (desk/live-door), but its session may have ended since.
    if (!who) return socket.close(ENDED, 'The session has ended.');
    const client: Client = {
      id: ++this.lastId,
      socket,
      who,
      carries: [],
      standIn: null,
      trying: new Set(),
      isFar: !isFromHere(request),
      watchesMotions: false,
      junk: { at: -Infinity, count: 0 },
    };
    this.clients.set(socket, client);
    this.byId.set(client.id, client);
    this.here.came(client.id, who, request);
    watchConnection(socket, (tripMs) => this.here.answered(client.id, tripMs));
    socket.on('message', (data: RawData, isBinary: boolean) => {
      if (!this.clients.has(socket)) return; // its session has ended
      const bytes = Array.isArray(data) ? Buffer.concat(data) : (data as Buffer);
      if (isBinary) this.hearBytes(client, bytes);
      else this.hearText(client, bytes.toString());
    });
    for (const message of this.greeting()) this.say(client, message);
    for (const [name, state] of this.standIns) this.say(client, { t: 'standIn', name, state });
    this.say(client, { t: 'you', id: client.id });
    const past = this.lastPassed.batch();
    if (past) this.send(client, Buffer.from(past));
    this.tellAll();
    if (who.sessionId !== null) this.peopleChanged();
  }

  handleDisconnect(socket: WebSocket): void {
    const client = this.clients.get(socket);
    if (!client) return;
    this.clients.delete(socket);
    this.byId.delete(client.id);
    this.here.left(client.id);
    this.engine.leave(client.id);
    this.followWatchers();
    if (client.who.sessionId !== null) this.peopleChanged();
    for (const mappingId of client.trying) this.engine.tryMapping(mappingId, false);
    if (client.standIn !== null && !this.standInNamed(client.standIn)) {
      this.standIns.delete(client.standIn);
      this.broadcast({ t: 'standIn', name: client.standIn, state: null });
    }
  }

  broadcast(message: FromServer): void {
    if (message.t === 'indexes') this.lastPassed.indexes(message.indexes, message.more);
    const text = JSON.stringify(message);
    for (const client of this.clients.values()) if (client.standIn === null) this.send(client, text);
  }

  broadcastBatch(bytes: Uint8Array): void {
    this.lastPassed.take(bytes);
    // The bytes are the link's, and valid during the call only; they are copied once for all.
    const kept = Buffer.from(bytes);
    let packed: Buffer | null = null;
    for (const { id, socket, standIn, isFar } of this.clients.values()) {
      if (standIn === null && socket.bufferedAmount < BEHIND_BYTES && !this.here.isQuiet(id))
        socket.send(isFar ? (packed ??= packBatch(kept)) : kept);
    }
  }

  portBytes(carrier: number, port: number, bytes: Uint8Array): void {
    const client = this.byId.get(carrier);
    if (client) this.send(client, Buffer.concat([Uint8Array.of(PORT_BYTES, port), bytes]));
  }

  /** @returns whether a browser with this session is connected */
  isHere(sessionId: string): boolean {
    return [...this.clients.values()].some(({ who }) => who.sessionId === sessionId);
  }

  /** Ends the connections of a session. What they hold is released, as when any connection breaks. */
  private endSession(sessionId: string): void {
    for (const { socket, who } of [...this.clients.values()]) {
      if (who.sessionId !== sessionId) continue;
      this.handleDisconnect(socket);
      socket.close(ENDED, 'The session has ended.');
    }
  }

  private tellOperators(): void {
    for (const client of this.clients.values())
      if (client.standIn === null && may(client.who, 'operator'))
        this.say(client, { t: 'people', guesses: this.people.wrongGuesses });
  }

  /** Asks something of a stand-in. @returns whether it is there. */
  ask(name: string, ask: unknown): boolean {
    const standIn = this.standInNamed(name);
    if (standIn) this.say(standIn, { t: 'ask', ask });
    return standIn !== undefined;
  }

  private hearWhere({ id }: Client, here: Here): void {
    const wasQuiet = this.here.isQuiet(id);
    this.here.said(id, here);
    // It got no batches while it was quiet.
    if (wasQuiet && !this.here.isQuiet(id)) this.tellAll();
  }

  private hearStandIn(client: Client, name: string, state: unknown, length: number): void {
    // One connection is one stand-in. With a second name, the first would stay listed for ever.
    if (client.standIn !== null && client.standIn !== name)
      return this.hearJunk(client, `another name, ${name}`);
    if (length > MOST_STATE_CHARS || !isShallow(state))
      return this.hearJunk(client, `a state of ${length} characters, or deeper than ${DEEPEST_STATE}`);
    client.standIn = name;
    this.standIns.set(name, state);
    this.broadcast({ t: 'standIn', name, state });
  }

  private followWatchers(): void {
    this.engine.motions.watch([...this.clients.values()].some(({ watchesMotions }) => watchesMotions));
  }

  private standInNamed(name: string): Client | undefined {
    return [...this.clients.values()].find((client) => client.standIn === name);
  }

  private sayTo(ids: readonly number[], message: FromServer): void {
    const text = JSON.stringify(message);
    for (const id of ids) {
      const client = this.byId.get(id);
      if (client) this.send(client, text);
    }
  }

  private say(client: Client, message: FromServer): void {
    this.send(client, JSON.stringify(message));
  }

  /** Sends to a client, and disconnects one that does not read, so that unread messages can't fill the memory. */
  private send({ socket }: Client, what: string | Buffer): void {
    if (socket.bufferedAmount > LOST_BYTES) socket.terminate();
    else socket.send(what);
  }

  private hearJunk({ id, junk }: Client, why: string): void {
    const now = performance.now();
    junk.count++;
    if (now - junk.at < JUNK_MS) return;
    this.log.warn(`client ${id} said ${junk.count} × what is no live message, the last: ${why}`);
    junk.at = now;
    junk.count = 0;
  }

  private hearBytes(client: Client, bytes: Buffer): void {
    const kind = client.carries[bytes[1] ?? 0];
    if (kind === undefined || !may(client.who, CARRIED_NEEDS[kind])) return;
    if (bytes.length > 2 && bytes[0] === PORT_BYTES)
      this.engine.portBytes(client.id, bytes[1]!, bytes.subarray(2), 0);
    else if (bytes.length > TIMED_HEAD && bytes[0] === TIMED_PORT_BYTES) {
      const ageMs = serverClock() - bytes.readDoubleLE(2);
      this.engine.portBytes(client.id, bytes[1]!, bytes.subarray(TIMED_HEAD), ageMs);
    }
  }

  private hearText(client: Client, text: string): void {
    let message: FromClient;
    const most = client.who.role === 'operator' ? MOST_SAID : MOST_SAID_BY_OTHERS;
    if (text.length > most || nestsDeeper(text)) return this.hearJunk(client, text.slice(0, 200));
    try {
      message = fromClientSchema.parse(JSON.parse(text));
    } catch {
      return this.hearJunk(client, text.slice(0, 200));
    }
    if (!may(client.who, LIVE_NEEDS[message.t]))
      return this.hearJunk(client, `${message.t}, which ${client.who.role}s may not`);
    switch (message.t) {
      case 'ports':
        client.carries = message.ports.map(({ kind }) => kind);
        this.here.offers(client.id, message.ports);
        return this.engine.offer(client.id, message.ports);
      case 'try':
        if (message.pressed) client.trying.add(message.mappingId);
        else client.trying.delete(message.mappingId);
        return this.engine.tryMapping(message.mappingId, message.pressed);
      case 'tryLine':
        return this.engine.tryLine(message.lineId, message.send, message.pressed, message.value);
      case 'here':
        return this.hearWhere(client, message);
      case 'standIn':
        return this.hearStandIn(client, message.name, message.state, text.length);
      case 'clock':
        return this.say(client, { t: 'clock', sent: message.sent, now: serverClock() });
      case 'watchMotions':
        client.watchesMotions = message.on;
        return this.followWatchers();
      case 'toStandIn':
        this.ask(message.name, message.ask);
    }
  }
}
