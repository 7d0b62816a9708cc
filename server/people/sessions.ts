/** The browsers that have signed in: a cookie each, for some days. What is kept of a cookie lets nobody in. */
import { randomUUID } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { parseCookie, stringifySetCookie } from 'cookie';
import type { Role } from '@tawny-signal/core/people/roles';
import { addressOf, isSecure } from './addresses.js';
import { browserWords } from './browser-words.js';
import type { KeptPeople, Session } from './people-file.js';
import { makeToken, tokenHash } from './secrets.js';

const DAY_MS = 24 * 3600_000;
/** The most browsers that are signed in; the one that came first goes for another. */
const MOST_SESSIONS = 200;

export interface Sessions {
  /** @returns the session whose cookie a request has; null for none that is valid */
  of(request: IncomingMessage): Session | null;
  /** Begins one in place of that of the same browser, and sets the cookie. Nothing is saved yet. */
  begin(request: IncomingMessage, response: ServerResponse, name: string, role: Role): Session;
  /** Ends those that are meant. @returns whether there were any */
  endWhere(isMeant: (session: Session) => boolean): boolean;
  forget(request: IncomingMessage, response: ServerResponse): void;
}

/** @param ended called for each that has ended */
export function createSessions(kept: KeptPeople, ended: (id: string) => void): Sessions {
  function endWhere(isMeant: (session: Session) => boolean): boolean {
    const over = kept.sessions.filter(isMeant);
    kept.sessions = kept.sessions.filter((one) => !over.includes(one));
    for (const { id } of over) ended(id);
    return over.length > 0;
  }

  function of(request: IncomingMessage): Session | null {
    const token = parseCookie(request.headers.cookie ?? '')[cookieName(request)];
    if (!token) return null;
    const hash = tokenHash(token);
    const now = Date.now();
    return kept.sessions.find((one) => one.token === hash && one.until > now) ?? null;
  }

  return {
    of,
    endWhere,
    begin(request, response, name, role) {
      const token = makeToken();
      const now = Date.now();
      const lastsMs = kept.opening.sessionDays * DAY_MS;
      const session: Session = {
        id: randomUUID(),
        token: tokenHash(token),
        name,
        role,
        address: addressOf(request),
        browser: browserWords(request.headers['user-agent'] ?? ''),
        since: now,
        until: now + lastsMs,
      };
      const before = of(request);
      const oldest = kept.sessions.length >= MOST_SESSIONS ? kept.sessions[0] : undefined;
      endWhere((one) => one === before || one === oldest);
      kept.sessions.push(session);
      response.appendHeader('Set-Cookie', cookie(request, token, lastsMs));
      return session;
    },
    forget: (request, response) => void response.appendHeader('Set-Cookie', cookie(request, '', 0)),
  };
}

/** A cookie goes to every port of a machine, so its name has the port. */
const cookieName = (request: IncomingMessage): string =>
  `${isSecure(request) ? '__Host-' : ''}tawny-${request.socket.localPort ?? 0}`;

const cookie = (request: IncomingMessage, value: string, ms: number): string =>
  stringifySetCookie({
    name: cookieName(request),
    value,
    httpOnly: true,
    sameSite: 'strict',
    secure: isSecure(request),
    path: '/',
    maxAge: ms / 1000,
  });
