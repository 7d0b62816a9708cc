/**
 * Who may talk to a server that listens on loopback only: pages that it served itself, and programs of this
 * machine. A page from elsewhere, or one that reached us under another name, is turned away.
 */
import type { IncomingMessage } from 'node:http';
import type { NextFunction, Request, Response } from 'express';

const LOCAL = /^(?:localhost|127(?:\.\d{1,3}){3}|\[::1\])(?::\d+)?$/i;

/** @returns whether a request's Host is this machine's own, and its Origin, where it has one, the same. */
export function isOwn(request: Pick<IncomingMessage, 'headers'>): boolean {
  const { host, origin } = request.headers;
  if (!host || !LOCAL.test(host)) return false;
  return origin === undefined || origin === `http://${host}`;
}

export function localOnly(request: Request, response: Response, next: NextFunction): void {
  if (isOwn(request)) return next();
  response.status(403).json({ message: 'Tawny Signal answers pages of its own machine only.', fields: [] });
}
