/** Listens on a UDP port on loopback, and tries again while it is in use. */
import { createSocket, type RemoteInfo, type Socket } from 'node:dgram';

const AGAIN_MS = 1000;

export interface UdpListener {
  packet(bytes: Uint8Array, from: RemoteInfo): void;
  /** Why it cannot listen, in words; empty if it can. */
  trouble(words: string): void;
}

export interface UdpPort {
  /** Sends from this port. Nothing is sent while it cannot listen. */
  send(bytes: Uint8Array, to: { address: string; port: number }): void;
}

export function listenUdp(port: number, listener: UdpListener): UdpPort {
  let open: Socket | null = null;

  function listen(): void {
    const socket = createSocket('udp4');
    socket.on('message', (bytes, from) => listener.packet(bytes, from));
    socket.on('error', (error: NodeJS.ErrnoException) => {
      open = null;
      listener.trouble(
        error.code === 'EADDRINUSE' ? `Port ${port} is in use by another program.` : String(error.code),
      );
      socket.close();
      setTimeout(listen, AGAIN_MS);
    });
    socket.bind({ port, address: '127.0.0.1', exclusive: true }, () => {
      open = socket;
      listener.trouble('');
    });
  }

  listen();
  return {
    // An answer that can't be sent is like one that is lost.
    send: (bytes, { address, port: to }) => open?.send(bytes, to, address, () => undefined),
  };
}
