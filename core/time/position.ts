/** The show's position: a straight line in time, so that it is known at every instant and cannot drift. */

export interface Motion {
  /** The position in ms at the instant `at`. */
  ms: number;
  /** Monotonic ms. */
  at: number;
  /** Ms of position in one ms: 1 at full speed, 0 where it stands, negative backward. */
  speed: number;
}

export const STANDING: Motion = { ms: 0, at: 0, speed: 0 };

export const positionAt = ({ ms, at, speed }: Motion, now: number): number => ms + (now - at) * speed;

/** The instant at which a position is reached; Infinity if it is not reached, or was passed. */
export function reachedAt({ ms, at, speed }: Motion, position: number, now: number): number {
  if (speed === 0) return Infinity;
  const when = at + (position - ms) / speed;
  return when >= now ? when : Infinity;
}

/** The same line, told from another instant on. */
export const from = (motion: Motion, now: number, speed = motion.speed): Motion => ({
  ms: positionAt(motion, now),
  at: now,
  speed,
});

export const DAY_MS = 86_400_000;
/** A loop is at least this long, in ms. */
export const SHORTEST_LOOP_MS = 100;
export const SLOWEST = 0.25;
export const FASTEST = 4;

/** What a person, a mapping or a moment asks of the position. Positions are in ms. */
export type PositionAct =
  | { do: 'play' }
  | { do: 'stop' }
  | { do: 'locate'; ms: number }
  | { do: 'playFrom'; ms: number }
  /** 0.25–4, of our own position. */
  | { do: 'speed'; speed: number }
  /** Our own position goes back to `from` whenever it reaches `to`; null to go on. */
  | { do: 'loop'; loop: { from: number; to: number } | null }
  /** The id of a source; `own`; or `auto`, by the order of the sources. */
  | { do: 'choose'; source: string }
  /** Whether moments are called by timecode. */
  | { do: 'calls'; on: boolean };

/** What sends ask of the position. */
export const POSITION_SEND_ACTS = ['play', 'stop', 'locate', 'playFrom', 'callsOn', 'callsOff'] as const;
export type PositionSendAct = (typeof POSITION_SEND_ACTS)[number];

export const OWN = 'own';
export const AUTO = 'auto';

/**
 * - `own`: it is kept by us
 * - `following`: a source is heard
 * - `riding`: the source is silent, and the position goes on at its speed
 * - `lost`: the source was silent for too long; the position holds or has stopped
 * - `standing`: the source said where it stands
 */
export type PositionMode = 'own' | 'following' | 'riding' | 'lost' | 'standing';

/** Why a moment was not called though the position passed it. */
export type PassedWhy = 'off' | 'takenOut' | 'jumped';

/** A moment that the position passed without calling it, with its position in ms. */
export interface Passed {
  id: string;
  ms: number;
  why: PassedWhy;
}

export interface PositionState {
  mode: PositionMode;
  /** The id of the source that counts, or `own`. */
  counts: string;
  chosen: string;
  callsOn: boolean;
  loop: { from: number; to: number } | null;
  /** Our own speed. */
  ownSpeed: number;
  /** Counts how often the position jumped, stopped or began to run. */
  turns: number;
  /** Moments that were passed over, the last one last. */
  passed: readonly Passed[];
}
