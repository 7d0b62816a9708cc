/** What browsers are told about the page: where its scripts and styles come from, who may frame it, and what it may ask of the machine. */
import { randomBytes } from 'node:crypto';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import type { IncomingMessage } from 'node:http';
import helmet from 'helmet';
import { isSecure } from '../people/addresses.js';

/** The word in the page that each answer replaces by its own nonce (CSP 3), for the few styles that libraries add. */
export const NONCE = '__NONCE__';

const SELF = ["'self'"];
const NONE = ["'none'"];

/** MIDI, sound, the whole screen, and to keep the screen awake on the prompt desk; nothing else. */
const PERMISSIONS = [
  'midi=(self)',
  'microphone=(self)',
  'speaker-selection=(self)',
  'fullscreen=(self)',
  'screen-wake-lock=(self)',
  ...['camera', 'geolocation', 'usb', 'serial', 'payment', 'display-capture'].map((name) => `${name}=()`),
].join(', ');

export const nonceOf = (response: Response): string => (response.locals as { nonce: string }).nonce;

/** The live connection of this host, which was checked before. */
const hostOf = (request: IncomingMessage): string =>
  `${isSecure(request) ? 'wss' : 'ws'}://${request.headers.host}`;

const strict = helmet({
  strictTransportSecurity: false,
  frameguard: { action: 'deny' },
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      'default-src': SELF,
      'base-uri': NONE,
      'object-src': NONE,
      'form-action': SELF,
      'frame-ancestors': NONE,
      'script-src': SELF,
      'style-src': ["'self'", (_, response) => `'nonce-${nonceOf(response as Response)}'`],
      'img-src': ["'self'", 'data:'],
      'font-src': SELF,
      'connect-src': ["'self'", hostOf],
    },
  },
});

/** The page that describes the API comes from a package, with a script and styles in its text. */
const ofTheApi = helmet({
  strictTransportSecurity: false,
  frameguard: { action: 'deny' },
  contentSecurityPolicy: {
    directives: {
      'frame-ancestors': NONE,
      'script-src': ["'self'", "'unsafe-inline'"],
      'style-src': ["'self'", "'unsafe-inline'"],
      'upgrade-insecure-requests': null,
    },
  },
});

export const securityHeaders: RequestHandler = (request: Request, response: Response, next: NextFunction) => {
  response.locals = { nonce: randomBytes(16).toString('base64') };
  response.setHeader('Permissions-Policy', PERMISSIONS);
  (request.path.startsWith('/api/docs') ? ofTheApi : strict)(request, response, next);
};
