/** Stands for a network on which machines find each other by name: what one sends here goes to everybody who has sent something, on loopback and without multicast. */
import { createSocket } from 'node:dgram';

export interface NamesRelay {
  /** For TAWNY_NAMES_RELAY. */
  port: number;
  /** The packets that came, the last hundred. */
  packets: Buffer[];
  /** Sends a packet to everybody, as a stranger would. */
  say(bytes: Uint8Array): void;
  close(): void;
}

const MOST_MEMBERS = 16;
const MOST_PACKETS = 100;

export function openNamesRelay(): Promise<NamesRelay> {
  const socket = createSocket('udp4');
  const members = new Set<number>();
  const packets: Buffer[] = [];
  const pass = (bytes: Uint8Array): void => {
    for (const member of members) socket.send(bytes, member, '127.0.0.1', () => undefined);
  };
  socket.on('message', (bytes, { port }) => {
    if (members.size < MOST_MEMBERS) members.add(port);
    packets.push(bytes);
    if (packets.length > MOST_PACKETS) packets.shift();
    pass(bytes);
  });
  socket.on('error', () => undefined);
  return new Promise((done) =>
    socket.bind(0, '127.0.0.1', () =>
      done({ port: socket.address().port, packets, say: pass, close: () => socket.close() }),
    ),
  );
}
