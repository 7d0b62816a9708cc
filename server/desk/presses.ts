/** Reads the id and the time of a press from a request. The engine decides whether it is done (core/cues/presses). */
import { HttpException, HttpStatus } from '@nestjs/common';
import { LATE_MS, LONGEST_PRESS_ID, type Press } from '@tawny-signal/core/cues/presses';
import type { FromEngine } from '@tawny-signal/core/link/messages';
import { EngineAway } from '../http/problems.js';

/** How often it checks whether an engine is back. */
const LOOK_MS = 20;

/** @param header `id ms`, in ms on the server's clock. @param now on the same clock. @returns null where it is none */
export function readPress(header: string | undefined, now: number): Press | null {
  const [id = '', at = ''] = (header ?? '').split(' ');
  return id === '' || id.length > LONGEST_PRESS_ID || at === '' || !Number.isFinite(Number(at))
    ? null
    : { id, lateMs: Math.max(0, now - Number(at)) };
}

/** 409: the press came too late. */
export class TooLate extends HttpException {
  constructor(lateMs: number) {
    super(
      { message: `Not called: ${(lateMs / 1000).toFixed(0)} s late. Press again.`, fields: [] },
      HttpStatus.CONFLICT,
    );
  }
}

/** 409: an engine died while it carried out the press. */
export class NotSure extends HttpException {
  constructor() {
    super(
      {
        message:
          'The engine died while it did this, and is back. Look whether it happened, and what stands by now; then call what is missing.',
        fields: [],
      },
      HttpStatus.CONFLICT,
    );
  }
}

/**
 * Gives a press to the engine. If that engine dies, the next one gets the press: it knows whether the press was carried out, and refuses a late one.
 * @param give gives it to the engine. @returns its answer; null if it is away. @param press null where it has no id: then there is one try
 * @param isReady whether an engine is there, with its lines
 * @throws EngineAway if it was not done, TooLate, NotSure
 */
export async function giveOrder(
  give: (press: Press | null) => Promise<FromEngine | null>,
  press: Press | null,
  isReady: () => boolean,
): Promise<void> {
  const since = performance.now();
  for (;;) {
    const waited = performance.now() - since;
    const now = press && { id: press.id, lateMs: press.lateMs + waited };
    const answer = press === null || isReady() ? await give(now) : null;
    if (answer?.t === 'ordered') {
      if (answer.how === 'done') return;
      throw answer.how === 'late' ? new TooLate(now?.lateMs ?? 0) : new NotSure();
    }
    if (press === null || waited > LATE_MS) throw new EngineAway();
    await new Promise((done) => setTimeout(done, LOOK_MS));
  }
}
