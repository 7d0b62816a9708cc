/**
 * Finds loops that close outside of the program: a message that was sent by a route and comes back in.
 *
 * Each message that is routed is remembered for RETURN_MS with how often it has come round. One that has come round
 * SUSPECT times makes its route suspect. A repeated note can look just the same, so the route is asked: it is held
 * still until what was on its way has come back, and a little longer, and what comes meanwhile is kept. In a loop nothing returns then; a
 * player plays on. What was kept is sent on, and only a route that was silent CERTAIN times in a row is cut.
 */
import { copySignal, type OscSignal, type Signal } from '../signal.js';

/** A message that comes back later than this counts as a new one. Common practice: 20 equal hits a second are no music. */
export const RETURN_MS = 50;
/** The same for clock and timecode, which repeat themselves: a clock at 300 beats a minute ticks each 8.3 ms (MIDI 1.0). */
export const SYSTEM_RETURN_MS = 5;
export const SUSPECT = 6;
export const CERTAIN = 2;
/** How long a route that was asked and turned out to be no loop is not asked again. Doubled each time. */
const TRUST_MS = 10_000;
const LONGEST_TRUST_MS = 300_000;
/** After this time, everything that was under way when a route was asked has come back. */
const IN_FLIGHT_MS = RETURN_MS + 5;
const MOST_KEPT = 512;
/** The number of messages that are remembered. Older ones are overwritten. */
const CELLS = 4096;

const KIND_CODE: Record<string, number> = {
  noteOff: 0,
  noteOn: 1,
  polyPressure: 2,
  controlChange: 3,
  programChange: 4,
  channelPressure: 5,
  pitchBend: 6,
};
/** Larger than every key of a channel message. */
const OTHERS = 2 ** 33;

function hashBytes(bytes: Uint8Array, hash: number): number {
  for (const byte of bytes) hash = Math.imul(hash ^ byte, 0x0100_0193);
  return hash;
}

function hashText(text: string, hash: number): number {
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x0100_0193);
  return hash;
}

const FNV = 0x811c_9dc5;
const float = new Float64Array(1);
const floatBytes = new Uint8Array(float.buffer);

function hashOsc({ address, args }: OscSignal): number {
  let hash = hashText(address, FNV | 0);
  for (const arg of args) {
    hash = hashText(arg.type, hash);
    if (!('value' in arg)) continue;
    if (typeof arg.value === 'number') {
      float[0] = arg.value;
      hash = hashBytes(floatBytes, hash);
    } else if (arg.value instanceof Uint8Array) hash = hashBytes(arg.value, hash);
    else hash = hashText(String(arg.value), hash);
  }
  return hash;
}

/** Returns a key that equal messages share; −1 for signals that cannot circulate, because only changes are sent. */
export function identity(signal: Signal): number {
  if ('channel' in signal) {
    const kind = KIND_CODE[signal.kind]!;
    return ((kind * 16 + signal.channel) * 128 + signal.number) * 16_384 + signal.value;
  }
  switch (signal.kind) {
    case 'osc':
      return OTHERS + (hashOsc(signal) >>> 0);
    case 'sysex':
      return OTHERS + (hashBytes(signal.bytes, FNV | 0) >>> 0);
    case 'system':
      return OTHERS + signal.status * 16_384 + signal.data1 * 128 + signal.data2;
    default:
      return -1;
  }
}

export interface Rounds {
  /** Returns how often this message has come back so far; 0 for a new one. */
  of(signal: Signal, now: number): number;
  /** How long its last round took; valid after `of` gave more than 0. */
  readonly tookMs: number;
  /** A message was sent that has come back this often. */
  left(signal: Signal, rounds: number, now: number): void;
}

export function createRounds(): Rounds {
  const keys = new Float64Array(CELLS).fill(-1);
  const at = new Float64Array(CELLS);
  const rounds = new Uint16Array(CELLS);
  let tookMs = 0;
  const cellOf = (key: number): number => (Math.imul((key % 0x7fff_ffff) | 0, 0x9e37_79b1) >>> 16) % CELLS;
  return {
    get tookMs() {
      return tookMs;
    },
    of(signal, now) {
      const key = identity(signal);
      if (key < 0) return 0;
      const cell = cellOf(key);
      const returnMs = signal.kind === 'system' ? SYSTEM_RETURN_MS : RETURN_MS;
      if (keys[cell] !== key || now - at[cell]! > returnMs) return 0;
      tookMs = now - at[cell]!;
      return Math.min(60_000, rounds[cell]! + 1);
    },
    left(signal, count, now) {
      const key = identity(signal);
      if (key < 0) return;
      const cell = cellOf(key);
      keys[cell] = key;
      at[cell] = now;
      rounds[cell] = count;
    },
  };
}

/** Watches one route. */
export interface Watch {
  state: 'open' | 'asked' | 'cut';
  /** While asked: monotonic ms when it is decided. */
  decideAt: number;
  /** Copies of what arrived while it was asked, to be sent on. */
  kept: { signal: Signal; rounds: number }[];
  /**
   * A message for this route that has come round so often. @returns whether it may pass now; if not, it was kept or, the
   * route being cut, is dropped.
   */
  allows(signal: Signal, rounds: number, tookMs: number, now: number): boolean;
  /** Decides whether the asked route is a loop. */
  decide(now: number): 'played on' | 'silent' | 'loop';
  /** Reopens the route. */
  restore(): void;
}

export function createWatch(): Watch {
  /** The times at which messages came back, the oldest first. */
  const returns: number[] = [];
  let askedAt = 0;
  let suspect = -1;
  let ratePerMs = 0;
  let late = 0;
  let silent = 0;
  let silentAt = 0;
  let trustUntil = -Infinity;
  let trustMs = TRUST_MS;

  function ask(signal: Signal, tookMs: number, now: number): void {
    suspect = identity(signal);
    ratePerMs = returns.length / Math.max(0.5, now - returns[0]!);
    askedAt = now;
    late = 0;
    watch.state = 'asked';
    watch.decideAt = now + IN_FLIGHT_MS + Math.min(150, Math.max(40, 3 * tookMs));
  }

  const watch: Watch = {
    state: 'open',
    decideAt: Infinity,
    kept: [],
    allows(signal, rounds, tookMs, now) {
      if (watch.state === 'cut') return false;
      if (rounds > 0) {
        returns.push(now);
        if (returns.length > 8) returns.shift();
      }
      if (watch.state === 'open') {
        if (rounds < SUSPECT || now < trustUntil) return true;
        ask(signal, tookMs, now);
      } else if (now - askedAt > IN_FLIGHT_MS && identity(signal) === suspect) late++;
      if (watch.kept.length < MOST_KEPT) watch.kept.push({ signal: copySignal(signal), rounds });
      return false;
    },
    decide(now) {
      const listened = now - askedAt - IN_FLIGHT_MS;
      watch.decideAt = Infinity;
      returns.length = 0;
      if (late >= 0.25 * ratePerMs * listened && late > 0) {
        watch.state = 'open';
        silent = 0;
        trustUntil = now + trustMs;
        trustMs = Math.min(LONGEST_TRUST_MS, trustMs * 2);
        return 'played on';
      }
      silent = now - silentAt < 2000 ? silent + 1 : 1;
      silentAt = now;
      if (silent < CERTAIN) {
        watch.state = 'open';
        return 'silent';
      }
      watch.state = 'cut';
      watch.kept = [];
      return 'loop';
    },
    restore() {
      watch.state = 'open';
      silent = 0;
      returns.length = 0;
    },
  };
  return watch;
}
