/** The socket to which the web server connects. Only the user of this process can open it. There is one server at a time, the newest. */
import { rmSync } from 'node:fs';
import { createServer, type Server, type Socket } from 'node:net';
import {
  batchFrame,
  createLinkReader,
  LinkError,
  messageFrame,
  portFrame,
} from '@tawny-signal/core/link/frames';
import type { FromEngine, ToEngine } from '@tawny-signal/core/link/messages';

export interface LinkEnd {
  tell(message: FromEngine): void;
  batch(bytes: Uint8Array): void;
  portBytes(carrier: number, port: number, bytes: Uint8Array): void;
  isHeard(): boolean;
  close(): void;
}

export interface LinkListener {
  /** A server has connected. The ports of an earlier one are unknown to it. */
  joined(): void;
  /** The server is gone, and the ports that it brought with it. */
  left(): void;
  /** @param json the message as it came */
  take(message: ToEngine, json: string): void;
  /** @param ageMs how long ago they arrived at the port */
  portBytes(carrier: number, port: number, bytes: Uint8Array, ageMs: number): void;
  /** The server sent something that cannot be understood. */
  confused(error: unknown): void;
}

/** A server with more than this to read is disconnected. It connects again and is told the current state. */
const BEHIND_BYTES = 8 << 20;

function parse(json: string): ToEngine {
  try {
    return JSON.parse(json) as ToEngine;
  } catch (error) {
    throw new LinkError(`a message that is no JSON: ${String(error)}`);
  }
}

/** Reads on after everything else has had its turn: a show comes in very many pieces. */
function yieldTo(socket: Socket): void {
  if (socket.isPaused()) return;
  socket.pause();
  setImmediate(() => socket.resume());
}

/** @param path of the socket. @param ready is called once it accepts connections */
export function openLink(path: string, listener: LinkListener, ready: () => void): LinkEnd {
  let server: Socket | null = null;
  // An earlier engine may have left its socket.
  if (process.platform !== 'win32') rmSync(path, { force: true });

  function leave(socket: Socket): void {
    socket.destroy();
    if (server !== socket) return;
    server = null;
    listener.left();
  }

  function join(socket: Socket): void {
    if (server) leave(server);
    server = socket;
    const reader = createLinkReader({
      message(json) {
        const message = parse(json);
        if (message.t === 'rows') yieldTo(socket);
        listener.take(message, json);
      },
      batch: () => undefined,
      portBytes: (carrier, port, bytes, ageMs) => listener.portBytes(carrier, port, bytes, ageMs),
    });
    socket.on('data', (bytes) => {
      try {
        reader.feed(bytes as Buffer);
      } catch (error) {
        // Anything else is our own fault, and ends the engine.
        if (!(error instanceof LinkError)) throw error;
        listener.confused(error);
        leave(socket);
      }
    });
    socket.on('error', () => undefined); // the close that follows is enough
    socket.on('close', () => leave(socket));
    listener.joined();
  }

  const listening: Server = createServer(join);
  listening.listen(path, ready);

  function write(bytes: Uint8Array): void {
    if (!server) return;
    if (server.writableLength > BEHIND_BYTES) leave(server);
    else server.write(bytes);
  }

  return {
    tell: (message) => write(messageFrame(message)),
    batch: (bytes) => write(batchFrame(bytes)),
    portBytes: (carrier, port, bytes) => write(portFrame(carrier, port, bytes)),
    isHeard: () => server !== null,
    close() {
      listening.close();
      server?.end();
    },
  };
}
