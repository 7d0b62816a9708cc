/**
 * Presses over a bad network: a browser sends one again until it is answered, so each has an id and acts once; and each has its time, so that a Go that
 * was held up on its way does not fire when nobody expects it any more.
 */
import { HttpException, HttpStatus } from '@nestjs/common';

/** A call that comes later than this after it was pressed is refused. */
export const LATE_MS = 1500;
/** The presses whose answers are remembered. */
const MOST = 500;
const LONGEST_ID = 64;
/** What ends or holds something is welcome however late. */
const NEVER_LATE: readonly string[] = ['hold', 'stop', 'stopAll'];

export interface Press {
  id: string;
  /** When it was made, in ms on the server's clock. */
  at: number;
}

/** @param header `id ms`. @returns null where it is none */
export function readPress(header: string | undefined): Press | null {
  const [id = '', at = ''] = (header ?? '').split(' ');
  return id === '' || id.length > LONGEST_ID || at === '' || !Number.isFinite(Number(at))
    ? null
    : { id, at: Number(at) };
}

/** 409: it came too late. */
export class TooLate extends HttpException {
  constructor(lateMs: number) {
    super(
      { message: `Not called: ${(lateMs / 1000).toFixed(0)} s late. Press again.`, fields: [] },
      HttpStatus.CONFLICT,
    );
  }
}

export interface Presses<T> {
  /** Does it, unless it was done already or came too late. A press that failed may come again. @throws TooLate */
  once(press: Press | null, what: string, act: () => Promise<T>): Promise<T>;
}

/** @param clock milliseconds, as the times of presses */
export function createPresses<T>(clock: () => number): Presses<T> {
  const done = new Map<string, Promise<T>>();
  return {
    async once(press, what, act) {
      if (press === null) return act();
      const before = done.get(press.id);
      if (before) return before;
      const lateMs = clock() - press.at;
      if (lateMs > LATE_MS && !NEVER_LATE.includes(what)) throw new TooLate(lateMs);
      const doing = act();
      done.set(press.id, doing);
      doing.catch(() => done.delete(press.id));
      if (done.size > MOST) done.delete(done.keys().next().value!);
      return doing;
    },
  };
}
