/**
 * A press over a bad network: sent again until it is answered, or until it is too late. The server acts on it once, and refuses a call that comes late
 * (server/desk/presses).
 */
import { serverNow } from '../live/server-clock';
import { call, Refused, Unreached } from './api';

/** How long one try waits for its answer, how long after that the next begins, and how long it is tried. */
const TRY_MS = 900;
const AGAIN_MS = 150;
const GIVE_UP_MS = 2500;

/** A browser has `crypto.randomUUID` only on a secure page. */
const newId = (): string =>
  Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => byte.toString(16).padStart(2, '0')).join(
    '',
  );

/** @throws Refused, also where the server could not be reached in time */
export async function press<T>(path: string, body: unknown): Promise<T> {
  const at = serverNow();
  const headers = { 'X-Press': `${newId()} ${at}` };
  for (;;) {
    try {
      return await call<T>('POST', path, body, { headers, withinMs: TRY_MS });
    } catch (error) {
      if (!(error instanceof Unreached)) throw error;
      if (serverNow() - at > GIVE_UP_MS)
        throw new Refused(
          'Not done: the server could not be reached. Press again once the connection is back.',
          [],
        );
      await new Promise((done) => setTimeout(done, AGAIN_MS));
    }
  }
}
