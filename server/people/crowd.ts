/**
 * Bounds what strangers can hold open at a door: connections in all and from one address, and the time that a request may take to come. A browser has
 * some ten connections, so that nobody who uses the page meets these bounds.
 */
import type { Server } from 'node:http';
import type { Server as SecureServer } from 'node:https';
import type { Socket } from 'node:net';

export interface CrowdBounds {
  /** Connections of a door, and those from one address. */
  most: number;
  mostFromOne: number;
  /** In which the head of a request must have come, and all of it, in ms. */
  headMs: number;
  requestMs: number;
}

/** A file of 2 MB takes 17 s at a megabit a second. */
export const CROWD: CrowdBounds = { most: 2000, mostFromOne: 250, headMs: 10_000, requestMs: 120_000 };

/** How long a connection may wait for the next request: a program that asks again now and then meets none that is just being closed. */
export const BETWEEN_REQUESTS_MS = 65_000;

/** The options of a server by which slow requests are looked at in time. */
export const slowest = ({ headMs, requestMs }: CrowdBounds) => ({
  handshakeTimeout: headMs,
  headersTimeout: headMs,
  requestTimeout: requestMs,
  keepAliveTimeout: BETWEEN_REQUESTS_MS,
  connectionsCheckingInterval: headMs / 5,
});

/** Refuses connections beyond the bounds: they are closed at once, without an answer. */
export function boundCrowd(server: Server | SecureServer, { most, mostFromOne }: CrowdBounds): void {
  const from = new Map<string, number>();
  server.maxConnections = most;
  server.on('connection', (socket: Socket) => {
    const address = socket.remoteAddress ?? '';
    const count = (from.get(address) ?? 0) + 1;
    from.set(address, count);
    socket.on('close', () => {
      const left = (from.get(address) ?? 1) - 1;
      if (left === 0) from.delete(address);
      else from.set(address, left);
    });
    if (count > mostFromOne) socket.destroy();
  });
}
