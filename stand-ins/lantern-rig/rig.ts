/** The lantern rig: turns levels into light. No I/O. */

/** The slots of the lamps, counted from 1. */
export const RIG = {
  /** Lamps along the pier, from the shore out. */
  house: { from: 1, count: 12 },
  /** Deck washers, three slots each: red, green, blue. */
  washers: { from: 13, count: 8 },
  strobes: { from: 40, count: 4 },
  lantern: 101,
  /** Turns the beam of the lantern: 255 is once around. */
  lens: 102,
};

const SHOWN = 128;
/** A source that sends nothing for this long is lost (ANSI E1.31, network data loss timeout; from memory). */
const LOST_MS = 2500;

export type RigProtocol = 'sACN' | 'Art-Net';

export interface RigFrame {
  protocol: RigProtocol;
  universe: number;
  /** The name or address of the sender. */
  source: string;
  priority: number | null;
  sequence: number;
  levels: Uint8Array;
  /** It is the sender's last. */
  ended: boolean;
}

export interface RigState {
  protocol: RigProtocol | null;
  universe: number | null;
  source: string;
  priority: number | null;
  /** Of the first 128 slots. */
  levels: number[];
  frames: number;
  framesPerSecond: number;
  /** The number of frames that are missing, by their sequence numbers. */
  missed: number;
  /** The sender has stopped. The lamps stay as they were. */
  silent: boolean;
}

export interface Rig {
  take(frame: RigFrame, now: number): void;
  state(now: number): RigState;
}

export function createRig(): Rig {
  const levels = new Uint8Array(SHOWN);
  const times: number[] = [];
  let last: RigFrame | null = null;
  let lastAt = -Infinity;
  let frames = 0;
  let missed = 0;

  return {
    take(frame, now) {
      if (last && last.source === frame.source && last.protocol === frame.protocol && !last.ended) {
        // An Art-Net sequence goes from 1 to 255 and leaves 0 out; sACN's goes from 0.
        const size = frame.protocol === 'Art-Net' ? 255 : 256;
        const ahead = (frame.sequence - last.sequence + size) % size;
        if (ahead > 1 && ahead < 20) missed += ahead - 1;
      }
      last = frame;
      lastAt = now;
      frames++;
      times.push(now);
      if (!frame.ended) levels.set(frame.levels.subarray(0, SHOWN));
    },
    state(now) {
      while (times.length > 0 && times[0]! <= now - 1000) times.shift();
      return {
        protocol: last?.protocol ?? null,
        universe: last?.universe ?? null,
        source: last?.source ?? '',
        priority: last?.priority ?? null,
        levels: [...levels],
        frames,
        framesPerSecond: times.length,
        missed,
        silent: last !== null && (last.ended || now - lastAt > LOST_MS),
      };
    },
  };
}
