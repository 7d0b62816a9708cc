/** Listens on a UDP port on loopback, and tries again while it is in use. */
import { createSocket, type RemoteInfo } from 'node:dgram';

const AGAIN_MS = 1000;

export interface UdpListener {
  packet(bytes: Uint8Array, from: RemoteInfo): void;
  /** Why it cannot listen, in words; empty if it can. */
  trouble(words: string): void;
}

export function listenUdp(port: number, listener: UdpListener): void {
  const socket = createSocket('udp4');
  socket.on('message', (bytes, from) => listener.packet(bytes, from));
  socket.on('error', (error: NodeJS.ErrnoException) => {
    listener.trouble(
      error.code === 'EADDRINUSE' ? `Port ${port} is in use by another program.` : String(error.code),
    );
    socket.close();
    setTimeout(() => listenUdp(port, listener), AGAIN_MS);
  });
  socket.bind({ port, address: '127.0.0.1', exclusive: true }, () => listener.trouble(''));
}
