/**
 * Opens the page at the addresses that somebody has chosen, in addition to 127.0.0.1. Each address has its own server, which passes everything on to the
 * first. Addresses that come and go, like those of a wireless network, are followed.
 */
import { createServer, type RequestListener, type Server } from 'node:http';
import { createServer as createSecureServer, type Server as SecureServer } from 'node:https';
import type { Duplex } from 'node:stream';
import { inUrl, ownAddresses, ownNames } from './addresses.js';
import type { Opening } from '@tawny-signal/core/people/people';
import type { Announcer } from './announcer.js';
import { BETWEEN_REQUESTS_MS, boundCrowd, CROWD, slowest } from './crowd.js';
import { BadCertificate, type Certificate } from './certificate.js';

/** How often it checks the addresses of this machine. */
const LOOK_MS = 2000;
const AGAIN_MS = 24 * 3600_000;
const ALL = 'all';
export const DOORS = Symbol('doors');
const ANY = [ALL, '0.0.0.0', '::'];

interface Door {
  server: Server | SecureServer;
  /** The live connections through it. Closing the server does not close them. */
  live: Set<Duplex>;
  open: boolean;
  /** Why it is not open, in words. */
  trouble: string;
}

export interface Doors {
  /** Opens these, and closes all others. @param listen addresses, or `all`. @param tls whether they are encrypted */
  set(listen: readonly string[], tls: boolean): Promise<void>;
  /** The certificate that is used; null where nothing is encrypted. */
  certificate(): Certificate | null;
  urls(): { url: string; here: boolean }[];
  troubles(): { address: string; why: string }[];
  close(): void;
}

/** The doors, once the first server listens; before that there are none. */
export interface DoorHolder extends Pick<Doors, 'troubles' | 'certificate'> {
  doors: Doors | null;
  announcer: Announcer | null;
  set(opening: Pick<Opening, 'listen' | 'tls' | 'announce'>): Promise<void>;
  /** Where the page is open, the loopback address first. */
  urls(): { url: string; here: boolean }[];
}

export function createDoorHolder(): DoorHolder {
  const holder: DoorHolder = {
    doors: null,
    announcer: null,
    async set({ listen, tls, announce }) {
      await holder.doors?.set(listen, tls);
      holder.announcer?.set(announce);
    },
    certificate: () => holder.doors?.certificate() ?? null,
    troubles: () => holder.doors?.troubles() ?? [],
    urls: () => holder.doors?.urls() ?? [],
  };
  return holder;
}

/**
 * @param main the server at 127.0.0.1, which listens already
 * @param certify gives the certificate for names and addresses, and those that it is not for
 * @param addresses gives the addresses of this machine, as they are now. @param bounds of what strangers can hold open
 */
export function openDoors(
  main: Server,
  port: number,
  handler: RequestListener,
  certify: (names: readonly string[]) => Promise<{ certificate: Certificate; notFor: string[] }>,
  addresses = ownAddresses,
  bounds = CROWD,
): Doors {
  main.keepAliveTimeout = BETWEEN_REQUESTS_MS;
  const doors = new Map<string, Door>();
  let wanted: readonly string[] = [];
  let encrypted = false;
  let looking: NodeJS.Timeout | null = null;
  let certificate: Certificate | null = null;
  /** The names that the certificate was requested for, and when. It is requested again when they change, and every day. */
  let certified = { names: '', at: -Infinity };
  /** Why there is no encrypted server, or what browsers will warn about. */
  let troubles: { address: string; why: string }[] = [];

  /** @returns whether the doors can be opened */
  async function certifyAll(meant: readonly string[]): Promise<boolean> {
    if (!encrypted) return true;
    const names = [...ownNames(), ...meant];
    const now = performance.now();
    if (certificate && certified.names === names.join() && now - certified.at < AGAIN_MS) return true;
    try {
      const { certificate: made, notFor } = await certify(names);
      certificate = made;
      certified = { names: names.join(), at: now };
      troubles = notFor
        .filter((name) => meant.includes(name))
        .map((address) => ({ address, why: 'the certificate is for other names: browsers warn of that.' }));
      for (const { server } of doors.values())
        if ('setSecureContext' in server) server.setSecureContext(made);
      return true;
    } catch (error) {
      // The page of this machine goes on, whatever it is.
      const words = error instanceof Error ? error.message : String(error);
      const why = error instanceof BadCertificate ? words : `no certificate could be made: ${words}`;
      troubles = meant.map((address) => ({ address, why }));
      return false;
    }
  }

  function listenAt(address: string): Promise<void> {
    const server =
      encrypted && certificate
        ? createSecureServer({ ...certificate, ...slowest(bounds) }, handler)
        : createServer(slowest(bounds), handler);
    boundCrowd(server, bounds);
    const door: Door = { server, live: new Set(), open: false, trouble: '' };
    doors.set(address, door);
    server.on('upgrade', (request, socket: Duplex, head) => {
      door.live.add(socket);
      socket.on('close', () => door.live.delete(socket));
      main.emit('upgrade', request, socket, head);
    });
    return new Promise((done) => {
      server.once('error', (error: NodeJS.ErrnoException) => {
        door.trouble = wordsOf(error, address, port);
        done();
      });
      server.listen(port, address, () => {
        door.open = true;
        server.on('error', () => undefined);
        done();
      });
    });
  }

  function shut(address: string): void {
    const door = doors.get(address);
    doors.delete(address);
    door?.server.close();
    door?.server.closeAllConnections();
    for (const socket of door?.live ?? []) socket.destroy();
  }

  async function look(): Promise<void> {
    const own = addresses();
    const meant = new Set(
      wanted.flatMap((address) => (ANY.includes(address) ? own : address === '127.0.0.1' ? [] : [address])),
    );
    troubles = encrypted ? troubles : [];
    if (!(await certifyAll([...meant]))) meant.clear();
    for (const [address, { open }] of [...doors]) if (!meant.has(address) || !open) shut(address);
    await Promise.all([...meant].filter((address) => !doors.has(address)).map(listenAt));
  }

  return {
    async set(listen, tls) {
      wanted = listen;
      if (tls !== encrypted) for (const address of [...doors.keys()]) shut(address);
      encrypted = tls;
      if (!tls) certificate = null;
      await look();
      if (looking) clearInterval(looking);
      looking = wanted.length === 0 ? null : setInterval(() => void look().catch(() => undefined), LOOK_MS);
    },
    urls: () => [
      { url: `http://127.0.0.1:${port}/`, here: true },
      ...[...doors]
        .filter(([, { open }]) => open)
        .map(([address]) => ({
          url: `${encrypted ? 'https' : 'http'}://${inUrl(address)}:${port}/`,
          here: false,
        })),
    ],
    certificate: () => certificate,
    troubles: () => [
      ...troubles,
      ...[...doors]
        .filter(([, { open }]) => !open)
        .map(([address, { trouble }]) => ({ address, why: trouble })),
    ],
    close() {
      if (looking) clearInterval(looking);
      for (const address of [...doors.keys()]) shut(address);
    },
  };
}

function wordsOf(error: NodeJS.ErrnoException, address: string, port: number): string {
  switch (error.code) {
    case 'EADDRNOTAVAIL':
    case 'EINVAL':
    case 'ENOTFOUND':
      return `this machine has no address ${address} now. It has ${ownAddresses().join(', ') || 'none but 127.0.0.1'}.`;
    case 'EADDRINUSE':
      return `another program uses port ${port} there. End it, or start with another --port.`;
    case 'EACCES':
      return `port ${port} needs the right to listen below 1024. Start with another --port, or give Node that right.`;
    default:
      return error.message;
  }
}
