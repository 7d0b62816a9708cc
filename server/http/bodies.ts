/**
 * Reads the bodies of requests, after it is known that somebody of this role may make the request at all, and no more than such a role has to say. What is
 * nested too deep is refused before it is parsed.
 */
import express, { type RequestHandler } from 'express';
import { nestsDeeper, TOO_DEEP } from '@tawny-signal/core/files/nesting';
import { leastNeed } from '@tawny-signal/core/people/needs';
import { may, type Role } from '@tawny-signal/core/people/roles';
import { whoAsks } from '../people/doorkeeper.js';
import { MayNot } from '../people/people-problems.js';

/** The most that a body of JSON has. */
const MOST_JSON: Record<Role | 'nobody', string> = {
  nobody: '8kb',
  onlooker: '8kb',
  caller: '64kb',
  operator: '2mb',
};
/** The most that a file has: those of shows with their MIDI files. */
const MOST_FILE = '32mb';

/** Refused with a message that the person reads (http/problems). */
class TooDeep extends Error {
  readonly status = 400;
  readonly expose = true;
}

const json = (limit: string): RequestHandler =>
  express.json({
    limit,
    verify: (_request, _response, bytes) => {
      if (nestsDeeper(bytes)) throw new TooDeep(TOO_DEEP);
    },
  });

export function bodies(): RequestHandler {
  const parsers = Object.fromEntries(
    Object.entries(MOST_JSON).map(([role, limit]) => [role, json(limit)]),
  ) as Record<Role | 'nobody', RequestHandler>;
  const file = express.raw({ type: 'application/octet-stream', limit: MOST_FILE });
  return (request, response, next) => {
    const who = whoAsks.get(request) ?? null;
    const need = leastNeed(request.method, request.path);
    if (need !== null && !may(who, need)) {
      const problem = new MayNot(who, need);
      // What is still on its way is not waited for.
      response.setHeader('Connection', 'close');
      response.status(problem.getStatus()).json(problem.getResponse());
      return;
    }
    void parsers[who?.role ?? 'nobody'](request, response, (error?: unknown) => {
      if (error !== undefined || need !== 'operator') next(error);
      else void file(request, response, next);
    });
  };
}
