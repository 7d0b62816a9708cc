/** Finds free ports on loopback. */
import { createSocket } from 'node:dgram';
import { createServer } from 'node:net';

/** @returns the port if it is free for TCP, else null. For 0, any free port */
export function tryPort(port: number): Promise<number | null> {
  return new Promise((done) => {
    const server = createServer();
    server.once('error', () => done(null));
    server.listen({ port, host: '127.0.0.1', exclusive: true }, () => {
      const found = (server.address() as { port: number }).port;
      server.close(() => done(found));
    });
  });
}

export async function freePort(): Promise<number> {
  return (await tryPort(0))!;
}

/** The same for UDP. */
export function tryUdpPort(port: number): Promise<number | null> {
  return new Promise((done) => {
    const socket = createSocket('udp4');
    socket.once('error', () => {
      socket.close();
      done(null);
    });
    socket.bind({ port, address: '127.0.0.1', exclusive: true }, () => {
      const found = socket.address().port;
      socket.close(() => done(found));
    });
  });
}

/** Returns the first free port from here on. @throws if there is none among a hundred */
export async function firstFree(
  from: number,
  attempt: (port: number) => Promise<number | null>,
): Promise<number> {
  for (let port = from; port < from + 100; port++) if ((await attempt(port)) !== null) return port;
  throw new Error(`No port from ${from} to ${from + 99} is free.`);
}
