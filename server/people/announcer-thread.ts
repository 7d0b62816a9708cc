/**
 * The thread of `announcer`: says on the network where the page is, with a package for DNS-SD (RFC 6763) over multicast DNS (RFC 6762), until it is told to
 * say that it is gone.
 */
import { createSocket, type Socket } from 'node:dgram';
import { hostname } from 'node:os';
import { parentPort, workerData } from 'node:worker_threads';
import { Bonjour } from 'bonjour-service';
import type { AnnounceTask } from './announcer.js';

if (!parentPort) throw new Error('announcer-thread.ts runs as a worker thread only');
const port = parentPort;
const task = workerData as AnnounceTask;

/** Packets that are sent in a second at most, whatever is asked. */
const MOST_SENT = 20;
/** Another machine has the name if it is not announced by then: the package asks three times, 250 ms apart. */
const ANNOUNCED_MS = 3000;
/** A port on loopback where packets go instead of to the multicast address. For tests, which send nothing to a network. */
const relay = Number(process.env['TAWNY_NAMES_RELAY'] ?? 0);

const trouble = (code: string): void => port.postMessage(code);

function bounded(socket: Socket): Socket {
  const send = socket.send.bind(socket) as (...given: unknown[]) => void;
  let second = 0;
  let sent = 0;
  socket.send = ((...given: unknown[]) => {
    const now = Math.floor(performance.now() / 1000);
    if (now !== second) [second, sent] = [now, 0];
    if (sent++ < MOST_SENT) return send(...given);
    const done = given.at(-1);
    if (typeof done === 'function') (done as () => void)();
  }) as Socket['send'];
  return socket;
}

const socket = bounded(createSocket({ type: 'udp4', reuseAddr: true }));
const failed = ({ code, message }: NodeJS.ErrnoException): void => trouble(code ?? message);
socket.on('error', failed);
if (relay > 0) socket.bind(0, '127.0.0.1');
const ways =
  relay > 0 ? { ip: '127.0.0.1', port: relay, bind: false, multicast: false } : { bind: '0.0.0.0' };
// The package hands these on to multicast-dns, and does not say so in its types.
const bonjour = new Bonjour({ socket, ...ways } as object, failed);
const service = bonjour.publish({
  name: task.name,
  type: task.tls ? 'https' : 'http',
  port: task.port,
  host: `${hostname().split('.')[0]}.local`,
  txt: { path: '/' },
  disableIPv6: true,
});
// Only the addresses that the page is open at.
const all = service.records.bind(service);
service.records = () => [
  ...all().filter(({ type }) => type !== 'A'),
  ...task.addresses.map((data) => ({ name: service.host, type: 'A' as const, ttl: 120, data })),
];
setTimeout(() => {
  if (!service.published && !service.activated) trouble('taken');
}, ANNOUNCED_MS);

port.on('message', () => {
  bonjour.unpublishAll(() => bonjour.destroy(() => process.exit(0)));
});
