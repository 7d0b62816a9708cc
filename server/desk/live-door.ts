/** Who may open a live connection: asked before it is opened, so that nobody else is answered more than a status. */
import type { IncomingMessage } from 'node:http';
import type { INestApplicationContext } from '@nestjs/common';
import { WsAdapter } from '@nestjs/platform-ws';
import { isOwn } from '../people/addresses.js';
import type { Somebody } from '../people/asking.js';

/** Says whether a connection is opened, or with which status it is refused. */
type Answer = (opened: boolean, status?: number) => void;

export class LiveDoor extends WsAdapter {
  /** @param identify returns who asks; null for somebody who has to sign in first */
  constructor(
    app: INestApplicationContext,
    private readonly identify: (request: IncomingMessage) => Somebody | null,
  ) {
    super(app);
  }

  override create(...[port, options]: Parameters<WsAdapter['create']>): unknown {
    const verifyClient = ({ req }: { req: IncomingMessage }, answer: Answer): void => {
      if (!isOwn(req)) answer(false, 403);
      else if (!this.identify(req)) answer(false, 401);
      else answer(true);
    };
    return super.create(port, { ...options, verifyClient }) as unknown;
  }
}
