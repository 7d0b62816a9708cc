/** The addresses of this machine, and what a request says of where it came from and where it was going. */
import type { IncomingMessage } from 'node:http';
import { hostname, networkInterfaces } from 'node:os';

const LOOPBACK = ['127.0.0.1', '::1'];
const HERE = /^(?:localhost|127\.0\.0\.1|\[::1\])(?::\d+)?$/i;

const plain = (address: string | undefined): string => (address ?? '').replace(/^::ffff:/, '');

/** The addresses of this machine that others can reach, without those that need a zone to be named. */
export function ownAddresses(): string[] {
  return Object.values(networkInterfaces())
    .flatMap((list) => list ?? [])
    .filter(({ internal, scopeid }) => !internal && !scopeid)
    .map(({ address }) => address);
}

/** As it is written in a URL. */
export const inUrl = (address: string): string => (address.includes(':') ? `[${address}]` : address);

/** The names that this machine goes by on a network. */
export function ownNames(): string[] {
  const name = hostname().toLowerCase();
  return name.includes('.') ? [name] : [name, `${name}.local`];
}

export const addressOf = ({ socket }: IncomingMessage): string => plain(socket.remoteAddress);

/** Whether it came over loopback, from a program of this machine. */
export function isFromHere({ socket }: IncomingMessage): boolean {
  const remote = plain(socket.remoteAddress);
  return (
    LOOPBACK.includes(plain(socket.localAddress)) && (remote.startsWith('127.') || LOOPBACK.includes(remote))
  );
}

export const isSecure = ({ socket }: IncomingMessage): boolean => 'encrypted' in socket;

/**
 * Whether a request names a place where we are open, and comes from a page that was served there: a page from elsewhere, or one that reached us under
 * another name, is turned away.
 */
export function isOwn(request: IncomingMessage): boolean {
  const { host, origin } = request.headers;
  const site = request.headers['sec-fetch-site'];
  if (!host || !isOurHost(request, host.toLowerCase())) return false;
  if (site === 'cross-site' || site === 'same-site') return isPlainVisit(request);
  return origin === undefined || origin === `${isSecure(request) ? 'https' : 'http'}://${host}`;
}

function isOurHost({ socket }: IncomingMessage, host: string): boolean {
  const local = plain(socket.localAddress);
  // A tunnel to this machine may have any port at its other end.
  if (LOOPBACK.includes(local)) return HERE.test(host);
  const port = socket.localPort ?? 0;
  const usual = 'encrypted' in socket ? 443 : 80;
  return [inUrl(local), ...ownNames()].some(
    (name) => host === `${name}:${port}` || (port === usual && host === name),
  );
}

/** Somebody follows a link to the page, which is no secret; anything else of ours is not for other pages. */
function isPlainVisit({ method, headers, url = '' }: IncomingMessage): boolean {
  return method === 'GET' && headers['sec-fetch-mode'] === 'navigate' && !/^\/(?:api|live)\b/i.test(url);
}
