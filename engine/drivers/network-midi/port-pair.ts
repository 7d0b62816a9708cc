/** A pair of UDP ports that stand side by side: a given one, or the next that is free. */
import { createSocket, type RemoteInfo, type Socket } from 'node:dgram';
import { isIPv6 } from 'node:net';
import { SESSION_PORT } from '@tawny-signal/core/show/whom';

export interface PortPair {
  /** The first port. */
  port: number;
  control: Socket;
  data: Socket;
  close(): void;
}

/** Why a pair can't be opened. */
export class PairTrouble extends Error {
  constructor(
    readonly port: number,
    readonly code: string | undefined,
  ) {
    super(`${port}: ${code ?? 'unknown'}`);
  }
}

/** Pairs that are tried where none is given. */
const MOST_PAIRS = 50;
/** The size of the receive buffer that is requested, where packets wait while the engine is busy. */
const RECEIVE_BYTES = 1 << 20;

function bind(host: string, port: number): Promise<Socket> {
  return new Promise((done, fail) => {
    const socket = createSocket({ type: isIPv6(host) ? 'udp6' : 'udp4', recvBufferSize: RECEIVE_BYTES });
    socket.once('error', (error: NodeJS.ErrnoException) => {
      socket.close();
      fail(new PairTrouble(port, error.code));
    });
    socket.bind({ port, address: host, exclusive: true }, () => {
      socket.removeAllListeners('error');
      // What can't be sent now is made good later.
      socket.on('error', () => undefined);
      done(socket);
    });
  });
}

async function openPair(host: string, port: number): Promise<PortPair> {
  const control = await bind(host, port);
  try {
    const data = await bind(host, port + 1);
    const close = (): void => {
      control.close();
      data.close();
    };
    return { port, control, data, close };
  } catch (error) {
    control.close();
    throw error;
  }
}

/** How often, and after how many ms, a pair is tried again that the same line had before: it may be closing just now. */
const AGAIN = { times: 10, ms: 50 };

async function openAgain(host: string, port: number): Promise<PortPair | null> {
  for (let tries = 0; tries < AGAIN.times; tries++) {
    try {
      return await openPair(host, port);
    } catch {
      await new Promise((done) => setTimeout(done, AGAIN.ms));
    }
  }
  return null;
}

/**
 * @param port the first one; null for the next pair that is free
 * @param before the one that the same line had before, which others may call; null for none
 * @throws PairTrouble
 */
export async function openPortPair(
  host: string,
  port: number | null,
  before: number | null,
): Promise<PortPair> {
  if (port !== null) return openPair(host, port);
  const again = before === null ? null : await openAgain(host, before);
  if (again) return again;
  for (let pair = 0; ; pair++) {
    try {
      return await openPair(host, SESSION_PORT + pair * 2);
    } catch (error) {
      const isTaken = error instanceof PairTrouble && error.code === 'EADDRINUSE';
      if (!isTaken || pair + 1 >= MOST_PAIRS) throw error;
    }
  }
}

/** The address of a sender as the session knows it. */
export const addressOf = ({ address, port }: RemoteInfo): { host: string; port: number } => ({
  host: address,
  port,
});

/** Counts what is on its way to the system, so that a socket is not closed before. */
export function createSends(): {
  send(socket: Socket, to: { host: string; port: number }, bytes: Uint8Array): void;
  /** Resolves once everything has left. */
  done(): Promise<void>;
} {
  let leaving = 0;
  let idle: (() => void) | null = null;
  return {
    send(socket, { host, port }, bytes) {
      // A packet may say that it is from port 0. Node throws where one is sent there.
      if (port < 1 || port > 65_535) return;
      leaving++;
      socket.send(bytes, port, host, () => {
        if (--leaving === 0) idle?.();
      });
    },
    done: () =>
      new Promise((done) => {
        if (leaving === 0) done();
        else idle = done;
      }),
  };
}
