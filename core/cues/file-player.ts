/** Plays MIDI files, any number of times, and leaves nothing sounding at the end. Given the time; reads no clock. */
import type { FileEvent, FileSignal } from '../midi/file.js';
import type { ChannelSignal } from '../signal.js';

export interface FilePlay {
  lineId: string | null;
  line: number;
  muted: boolean;
  /** In the order of their times. */
  events: readonly FileEvent[];
  /** The length of one round in ms. */
  lengthMs: number;
  /** The number of rounds; 0 to play until it is stopped. */
  times: number;
  /** Id of the moment that plays it. */
  owner: string;
  /** The step to credit it to (core/because). */
  because: number;
  ended(): void;
}

export interface FilePlayer {
  start(play: FilePlay, now: number): void;
  /** Stops the files of an owner and releases what sounds. `ended` is not called. */
  stop(ofOwner: (owner: string) => boolean): void;
  plays(owner: string): boolean;
  /** When `wake` is due, in monotonic ms; Infinity if nothing plays. */
  wakeAt(): number;
  wake(now: number): void;
}

/** The shortest round in ms, which bounds how often a short file repeats. */
const SHORTEST_MS = 20;
/** The sustain pedal (MIDI 1.0, controller 64). */
export const SUSTAIN = 64;

interface Playing extends FilePlay {
  since: number;
  /** Index of the next event. */
  at: number;
  round: number;
  /** The releases of what sounds, by channel << 7 | number. */
  down: Map<number, ChannelSignal>;
}

export function createFilePlayer(put: (play: FilePlay, signal: FileSignal) => void): FilePlayer {
  let playing: Playing[] = [];

  const lengthOf = ({ lengthMs }: Playing): number => Math.max(SHORTEST_MS, lengthMs);
  const dueAt = (one: Playing): number =>
    one.since + one.round * lengthOf(one) + (one.events[one.at]?.atMs ?? lengthOf(one));

  function send(one: Playing, signal: FileSignal): void {
    if (signal.kind === 'sysex') return put(one, signal);
    const key = (signal.channel << 7) | signal.number;
    if (signal.kind === 'noteOn') one.down.set(key, { ...signal, kind: 'noteOff', value: 0 });
    else if (signal.kind === 'noteOff') one.down.delete(key);
    else if (signal.kind === 'controlChange' && signal.number === SUSTAIN) {
      const sustained = (1 << 12) | key;
      if (signal.value > 0) one.down.set(sustained, { ...signal, value: 0 });
      else one.down.delete(sustained);
    }
    put(one, signal);
  }

  function releaseAll(one: Playing): void {
    for (const signal of one.down.values()) put(one, signal);
    one.down.clear();
  }

  /** @returns whether it goes on */
  function move(one: Playing, now: number): boolean {
    while (dueAt(one) <= now) {
      const event = one.events[one.at];
      if (event) {
        send(one, event.signal);
        one.at++;
        continue;
      }
      releaseAll(one);
      one.at = 0;
      // Rounds that were missed are skipped, and not played all at once.
      one.round = Math.max(one.round + 1, Math.floor((now - one.since) / lengthOf(one)));
      if (one.times > 0 && one.round >= one.times) return false;
    }
    return true;
  }

  function wake(now: number): void {
    const over = playing.filter((one) => dueAt(one) <= now && !move(one, now));
    if (over.length === 0) return;
    playing = playing.filter((one) => !over.includes(one));
    for (const one of over) one.ended();
  }

  return {
    start(play, now) {
      if (play.events.length === 0) return play.ended();
      playing = [...playing, { ...play, since: now, at: 0, round: 0, down: new Map() }];
      wake(now);
    },
    stop(ofOwner) {
      const gone = playing.filter(({ owner }) => ofOwner(owner));
      playing = playing.filter(({ owner }) => !ofOwner(owner));
      for (const one of gone) releaseAll(one);
    },
    plays: (owner) => playing.some((one) => one.owner === owner),
    wakeAt: () => playing.reduce((first, one) => Math.min(first, dueAt(one)), Infinity),
    wake,
  };
}
