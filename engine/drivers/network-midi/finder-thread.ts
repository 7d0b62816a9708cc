/** The thread of `finder`: announces one session, and looks for others, with a package for DNS-SD (RFC 6763) over multicast DNS (RFC 6762). */
import { createSocket, type Socket } from 'node:dgram';
import type { EventEmitter } from 'node:events';
import { hostname } from 'node:os';
import { parentPort, workerData } from 'node:worker_threads';
import { Bonjour, type Service } from 'bonjour-service';
import { noNames, type FinderTask, type FromFinder } from './finder.js';
import { createFoundList, lookAgainMs, MOST_HEARD, SERVICE } from './found-list.js';

if (!parentPort) throw new Error('finder-thread.ts runs as a worker thread only');
const port = parentPort;
const task = workerData as FinderTask;
const isEverywhere = task.host === '0.0.0.0';

/** Packets that are sent in a second at most, whatever is asked. */
const MOST_SENT = 20;
/** What was found is told this often at most. */
const TELL_MS = 250;
/** Another machine has the name if it is not announced by then: the package asks three times, 250 ms apart. */
const ANNOUNCED_MS = 3000;
/**
 * A port on loopback where packets go instead of to the multicast address; whoever listens there passes them on to all. For tests, which send nothing to a
 * network.
 */
const relay = Number(process.env['TAWNY_NAMES_RELAY'] ?? 0);

const tell = (message: FromFinder): void => port.postMessage(message);
type Trouble = 'sending' | 'hearing' | 'name';
const troubles = new Map<Trouble, string>();
/** Nothing at first: that all is well is told too, since a thread before this one may have said otherwise. */
let told: string | null | undefined;
function trouble(of: Trouble, words: string | null): void {
  if (words === null) troubles.delete(of);
  else troubles.set(of, words);
  const all = [...new Set(troubles.values())].join(' ') || null;
  if (all === told) return;
  told = all;
  tell({ t: 'trouble', words: all });
}

const noNetwork = (code: string | undefined): void => trouble('sending', noNames(task.host, code));

/** Sends a bounded number of packets, and sees whether they leave. */
function bounded(socket: Socket): Socket {
  const send = socket.send.bind(socket);
  let second = 0;
  let sent = 0;
  socket.send = ((
    bytes: Buffer,
    offset: number,
    length: number,
    to: number,
    host: string,
    done?: () => void,
  ) => {
    const now = Math.floor(performance.now() / 1000);
    if (now !== second) [second, sent] = [now, 0];
    if (sent++ >= MOST_SENT) return done?.();
    send(bytes, offset, length, to, host, (error) => {
      if (error) noNetwork((error as NodeJS.ErrnoException).code);
      else trouble('sending', null);
      done?.();
    });
  }) as Socket['send'];
  return socket;
}

function open(): Bonjour {
  const socket = bounded(createSocket({ type: 'udp4', reuseAddr: true }));
  socket.on('error', ({ code }: NodeJS.ErrnoException) => noNetwork(code));
  const ways =
    relay > 0
      ? { ip: '127.0.0.1', port: relay, bind: false, multicast: false }
      : { bind: '0.0.0.0', ...(isEverywhere ? {} : { interface: task.host }) };
  if (relay > 0) socket.bind(0, '127.0.0.1');
  // The package hands these on to multicast-dns, and does not say so in its types.
  const options = { socket, ...ways } as object;
  const made = new Bonjour(options, ({ code }: NodeJS.ErrnoException) => noNetwork(code));
  const { mdns } = (made as unknown as { server: { mdns: EventEmitter } }).server;
  // Of all networks some may not carry multicast, such as loopback. The one that was chosen has to.
  if (!isEverywhere) {
    mdns.on('warning', ({ syscall, code }: NodeJS.ErrnoException) => {
      if (syscall === 'addMembership') trouble('hearing', noNames(task.host, code));
    });
    mdns.on('networkInterface', () => trouble('hearing', null));
  }
  return made;
}

const bonjour = open();
const list = createFoundList(task, task.called);

function announce(): void {
  const { name, host } = task;
  const service = bonjour.publish({
    ...SERVICE,
    name,
    port: task.port,
    host: `${hostname().split('.')[0]}.local`,
    disableIPv6: true,
  });
  // The addresses of all networks, or the one that the session is bound to.
  const all = service.records.bind(service);
  service.records = () => {
    const records = all();
    if (isEverywhere) return records;
    const others = records.filter(({ type }) => type !== 'A');
    return [...others, { name: service.host, type: 'A', ttl: 120, data: host }];
  };
  setTimeout(() => {
    const isTaken = !service.published && !service.activated;
    trouble(
      'name',
      isTaken ? `Another session is called “${name}” already: give this one another name.` : null,
    );
  }, ANNOUNCED_MS);
}

let telling: NodeJS.Timeout | null = null;
function tellSoon(): void {
  telling ??= setTimeout(() => {
    telling = null;
    tell({ t: 'found', found: list.all() });
  }, TELL_MS);
}

function look(round: number): void {
  const browser = bonjour.find(SERVICE);
  const seen = (service: Service): void => void (list.seen(service, round) && tellSoon());
  browser.on('up', (service) => {
    // What was found is kept by the list; the package would keep all that is ever announced.
    if (browser.services.length > MOST_HEARD) browser.stop();
    seen(service);
  });
  browser.on('srv-update', seen);
  browser.on('down', (service) => list.gone(service) && tellSoon());
  setTimeout(() => {
    browser.stop();
    if (list.sweep(round)) tellSoon();
    look(round + 1);
  }, lookAgainMs(round));
}

announce();
look(0);
tell({ t: 'found', found: [] });

port.on('message', () => {
  bonjour.unpublishAll(() => bonjour.destroy(() => process.exit(0)));
});
