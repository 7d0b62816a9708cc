/** Finds free ports on loopback. */
import { createSocket, type Socket } from 'node:dgram';
import { createServer } from 'node:net';

/** Listens for a moment. @returns the port, for 0 any free one. @throws as Node does */
function listenAt(port: number): Promise<number> {
  return new Promise((done, fail) => {
    const server = createServer();
    server.once('error', fail);
    server.listen({ port, host: '127.0.0.1', exclusive: true }, () => {
      const found = (server.address() as { port: number }).port;
      server.close(() => done(found));
    });
  });
}

/** @returns the port if it is free for TCP, else null */
export const tryPort = (port: number): Promise<number | null> => listenAt(port).catch(() => null);

export const freePort = (): Promise<number> => listenAt(0);

/** @returns why a port can't be served on, and what to do; null if it can */
export async function portTrouble(port: number): Promise<string | null> {
  try {
    await listenAt(port);
    return null;
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    if (code === 'EADDRINUSE') return `Port ${port} is in use. Choose another with --port, or leave it out.`;
    if (code === 'EACCES')
      return `Port ${port} needs the right to listen below 1024, which an ordinary user has not. Choose a higher one with --port, or leave it out.`;
    return `Port ${port} can’t be used: ${message}`;
  }
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

/** @returns the port if it is even, and it and the next one are free for UDP, else null */
export async function tryUdpPair(port: number): Promise<number | null> {
  if (port % 2 !== 0 || (await tryUdpPort(port + 1)) === null) return null;
  return tryUdpPort(port);
}

/** Returns the first free port from here on. @throws if there is none among a hundred */
export async function firstFree(
  from: number,
  attempt: (port: number) => Promise<number | null>,
): Promise<number> {
  for (let port = from; port < from + 100; port++) if ((await attempt(port)) !== null) return port;
  throw new Error(`No port from ${from} to ${from + 99} is free.`);
}

const bindUdp = (port: number): Promise<Socket> =>
  new Promise((done, fail) => {
    const socket = createSocket('udp4');
    socket.once('error', (error) => {
      socket.close();
      fail(error);
    });
    socket.bind({ port, address: '127.0.0.1', exclusive: true }, () => done(socket));
  });

const MOST_PAIRS = 200;

/** Binds two UDP ports that stand side by side, the first one even. */
export async function bindUdpPair(): Promise<[Socket, Socket]> {
  for (let tries = 0; ; tries++) {
    const first = 30_000 + 2 * Math.floor(Math.random() * 10_000);
    try {
      const one = await bindUdp(first);
      try {
        return [one, await bindUdp(first + 1)];
      } catch (error) {
        one.close();
        throw error;
      }
    } catch (error) {
      if (tries >= MOST_PAIRS) throw error;
    }
  }
}

/** Returns the first port of such a pair that is free now. */
export async function freeUdpPair(): Promise<number> {
  const pair = await bindUdpPair();
  const { port } = pair[0].address();
  for (const socket of pair) await new Promise<void>((done) => socket.close(() => done()));
  return port;
}
