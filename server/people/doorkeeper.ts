/** The first thing that a request meets: is it meant for us, who asks, and may somebody who has not signed in ask that at all. */
import type { IncomingMessage } from 'node:http';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import { httpNeed } from '@tawny-signal/core/people/needs';
import { isOwn } from './addresses.js';
import type { Somebody } from './asking.js';
import { MayNot } from './people-problems.js';

const FOREIGN = {
  message:
    'Tawny Signal answers only pages that it served itself, under an address that it is open at. Open it by such an address.',
  fields: [],
};

/** Who asks, for what comes later on the way of the same request. */
export const whoAsks = new WeakMap<IncomingMessage, Somebody | null>();

/** Turns away what is not for us, and bodies of strangers before they are read. The page itself is no secret: somebody has to sign in on it. */
export function doorkeeper(identify: (request: IncomingMessage) => Somebody | null): RequestHandler {
  return (request: Request, response: Response, next: NextFunction): void => {
    if (!isOwn(request)) {
      response.status(403).json(FOREIGN);
      return;
    }
    const who = identify(request);
    whoAsks.set(request, who);
    // Routes are found in small and large letters.
    if (who === null && /^\/api\//i.test(request.path) && !isForNobody(request)) {
      const problem = new MayNot(null, 'onlooker');
      response.status(problem.getStatus()).json(problem.getResponse());
      return;
    }
    next();
  };
}

const isForNobody = ({ method, path }: Request): boolean => httpNeed(method, path, null) === 'nobody';
