/**
 * The live connection: what passes goes to every browser, and what browsers and stand-ins carry comes in.
 * MIDI and batches are binary (core/live/batch), the rest is JSON (core/live/messages).
 */
import type { IncomingMessage } from 'node:http';
import { Logger } from '@nestjs/common';
import { WebSocketGateway, type OnGatewayConnection, type OnGatewayDisconnect } from '@nestjs/websockets';
import type { RawData, WebSocket } from 'ws';
import { PORT_BYTES } from '@tawny-signal/core/live/batch';
import { fromClientSchema, type FromClient, type FromServer } from '@tawny-signal/core/live/messages';
import { isOwn } from '../http/local-only.js';
import { EngineService } from './engine.service.js';

interface Client {
  id: number;
  socket: WebSocket;
  /** The stand-in that it is; null for a browser. */
  standIn: string | null;
  /** Mappings that it holds down by hand. */
  trying: Set<string>;
}

/** A browser that has this much still to read gets no batches until it has caught up. */
const BEHIND_BYTES = 1 << 20;

@WebSocketGateway({
  path: '/live',
  maxPayload: 8 << 20,
  verifyClient: ({ req }: { req: IncomingMessage }) => isOwn(req),
})
export class LiveGateway implements OnGatewayConnection<WebSocket>, OnGatewayDisconnect<WebSocket> {
  private readonly log = new Logger('live');
  private readonly clients = new Map<WebSocket, Client>();
  private readonly standIns = new Map<string, unknown>();
  private lastId = 0;
  /** What a browser is told first. */
  greeting: () => FromServer[] = () => [];

  constructor(private readonly engine: EngineService) {}

  handleConnection(socket: WebSocket): void {
    const client: Client = { id: ++this.lastId, socket, standIn: null, trying: new Set() };
    this.clients.set(socket, client);
    socket.on('message', (data: RawData, isBinary: boolean) => {
      const bytes = Array.isArray(data) ? Buffer.concat(data) : Buffer.from(data as Buffer);
      if (isBinary) this.hearBytes(client, bytes);
      else this.hearText(client, bytes.toString());
    });
    socket.on('error', () => undefined); // the close that follows says it
    for (const message of this.greeting()) this.say(client, message);
    for (const [name, state] of this.standIns) this.say(client, { t: 'standIn', name, state });
    this.engine.tellAll();
  }

  handleDisconnect(socket: WebSocket): void {
    const client = this.clients.get(socket);
    if (!client) return;
    this.clients.delete(socket);
    this.engine.leave(client.id);
    for (const mappingId of client.trying) this.engine.tryMapping(mappingId, false);
    if (client.standIn !== null && !this.standInNamed(client.standIn)) {
      this.standIns.delete(client.standIn);
      this.broadcast({ t: 'standIn', name: client.standIn, state: null });
    }
  }

  broadcast(message: FromServer): void {
    const text = JSON.stringify(message);
    for (const { socket, standIn } of this.clients.values()) if (standIn === null) socket.send(text);
  }

  broadcastBatch(bytes: Uint8Array): void {
    for (const { socket, standIn } of this.clients.values()) {
      if (standIn === null && socket.bufferedAmount < BEHIND_BYTES) socket.send(bytes);
    }
  }

  portBytes(carrier: number, port: number, bytes: Uint8Array): void {
    for (const { id, socket } of this.clients.values()) {
      if (id === carrier) socket.send(Buffer.concat([Uint8Array.of(PORT_BYTES, port), bytes]));
    }
  }

  /** Asks something of a stand-in. @returns whether it is there. */
  ask(name: string, ask: unknown): boolean {
    const standIn = this.standInNamed(name);
    if (standIn) this.say(standIn, { t: 'ask', ask });
    return standIn !== undefined;
  }

  private standInNamed(name: string): Client | undefined {
    return [...this.clients.values()].find((client) => client.standIn === name);
  }

  private say(client: Client, message: FromServer): void {
    client.socket.send(JSON.stringify(message));
  }

  private hearBytes(client: Client, bytes: Buffer): void {
    if (bytes.length > 2 && bytes[0] === PORT_BYTES)
      this.engine.portBytes(client.id, bytes[1]!, bytes.subarray(2));
  }

  private hearText(client: Client, text: string): void {
    let message: FromClient;
    try {
      message = fromClientSchema.parse(JSON.parse(text));
    } catch {
      this.log.warn(`a live message that is none: ${text.slice(0, 200)}`);
      return;
    }
    switch (message.t) {
      case 'ports':
        return this.engine.offer(client.id, message.ports);
      case 'try':
        if (message.pressed) client.trying.add(message.mappingId);
        else client.trying.delete(message.mappingId);
        return this.engine.tryMapping(message.mappingId, message.pressed);
      case 'tryLine':
        return this.engine.tryLine(message.lineId, message.send, message.pressed, message.value);
      case 'standIn':
        client.standIn = message.name;
        this.standIns.set(message.name, message.state);
        return this.broadcast({ t: 'standIn', name: message.name, state: message.state });
      case 'toStandIn':
        this.ask(message.name, message.ask);
    }
  }
}
