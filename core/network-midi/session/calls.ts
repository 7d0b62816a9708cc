/** Whom we call: each machine is invited on its control port, then on its data port, and called again with growing waits until it answers. */
import type { Address } from './participant.js';
import { callAgainMs, REFUSED_MS } from './waits.js';

export interface Call {
  /** Of the control port; the data port is the next one. */
  to: Address;
  /** `control` and `data` say which invitation is not answered yet. */
  state: 'control' | 'data' | 'connected';
  token: number;
  tries: number;
  /** When it is called again, in ms. */
  nextAt: number;
  /** True if the last answer was a refusal. */
  isRefused: boolean;
  /** True if it is given up after some tries, or once the other machine has left. */
  isOnce: boolean;
  /** The number of the machine; null before it has answered. */
  ssrc: number | null;
}

export const createCall = (to: Address, token: number, isOnce = false): Call => ({
  to,
  state: 'control',
  token,
  tries: 0,
  nextAt: -Infinity,
  isRefused: false,
  isOnce,
  ssrc: null,
});

/** Tries on the data port before it is called on the control port again. */
const DATA_TRIES = 3;
/** Tries that nobody has answered, after which the other machine may call us instead. */
const OWN_TRIES = 3;

/** Notes that an invitation goes out now. */
export function tried(call: Call, now: number): void {
  call.nextAt = now + callAgainMs(call.tries++);
  if (call.state === 'data' && call.tries > DATA_TRIES) call.state = 'control';
}

/** Goes on with the other port. */
export function acceptedBy(call: Call, ssrc: number): void {
  Object.assign(call, { state: 'data', tries: 0, isRefused: false, ssrc });
}

export function refusedBy(call: Call, now: number): void {
  Object.assign(call, { state: 'control', isRefused: true, nextAt: now + REFUSED_MS });
}

/** Whether our call is on its way, so that two machines that call each other do not meet twice. */
export const isOnTheWay = ({ state, tries, isRefused }: Call): boolean =>
  state === 'data' || (state === 'control' && !isRefused && tries > 0 && tries <= OWN_TRIES);

/** Whether a call that is made once has come to its end. */
export const isGivenUp = ({ isOnce, isRefused, state, tries }: Call): boolean =>
  isOnce && (isRefused || (state === 'control' && tries > OWN_TRIES));

/** Begins to call anew. @param token another one, so that answers to the call before do not count */
export function callAnew(call: Call, token: number, at: number): void {
  Object.assign(call, { state: 'control', token, tries: 0, nextAt: at, isRefused: false, ssrc: null });
}
