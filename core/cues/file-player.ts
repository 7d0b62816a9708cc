/** MIDI files at play: each event at its time, as often as asked, and nothing left sounding when it ends. Given the time; reads no clock. */
import type { FileEvent } from '../midi/file.js';
import type { ChannelSignal } from '../signal.js';

export interface FilePlay {
  lineId: string | null;
  line: number;
  muted: boolean;
  /** In the order of their time. */
  events: readonly FileEvent[];
  /** Until it begins again, in ms. */
  lengthMs: number;
  /** 0: until it is stopped. */
  times: number;
  /** Whose it is: the id of a moment. */
  owner: string;
  /** The step of the engine that it belongs to (core/because). */
  because: number;
  ended(): void;
}

export interface FilePlayer {
  start(play: FilePlay, now: number): void;
  /** Ends those of an owner: what sounds of them is released. `ended` is not called. */
  stop(ofOwner: (owner: string) => boolean): void;
  plays(owner: string): boolean;
  /** Monotonic ms; Infinity when nothing plays. */
  wakeAt(): number;
  wake(now: number): void;
}

/** A file that is shorter is played over no more often. */
const SHORTEST_MS = 20;
/** Sustain, which holds what sounds (MIDI 1.0, controller 64). */
export const SUSTAIN = 64;

interface Playing extends FilePlay {
  since: number;
  /** Of the events: the next one. */
  at: number;
  round: number;
  /** By channel << 7 | number, what releases it. */
  down: Map<number, ChannelSignal>;
}

export function createFilePlayer(put: (play: FilePlay, signal: ChannelSignal) => void): FilePlayer {
  let playing: Playing[] = [];

  const lengthOf = ({ lengthMs }: Playing): number => Math.max(SHORTEST_MS, lengthMs);
  const dueAt = (one: Playing): number =>
    one.since + one.round * lengthOf(one) + (one.events[one.at]?.atMs ?? lengthOf(one));

  function send(one: Playing, signal: ChannelSignal): void {
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
      // Rounds that were slept through are not played after, all at once.
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
