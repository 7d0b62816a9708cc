/** What is made good after a loss: commands that are played now, each noted in the history, so that it is never done twice. */
import { takeCommand, type History } from '../history/history.js';

export interface Repairs {
  readonly history: History;
  /** True for the first packet that is heard: what is counted can't be compared with anything yet. */
  readonly isFirst: boolean;
  /** How long nothing was heard before this packet, in ms; Infinity for the first one. */
  readonly gapMs: number;
  /** Plays a command. */
  play(...bytes: number[]): void;
  /** Plays one some times, or as often as one packet may bring. */
  playOften(times: number, ...bytes: number[]): void;
  /** Notes a command as said without playing it. */
  pass(...bytes: number[]): void;
  /** A system-exclusive message is lost, and can't be made good. */
  loseSysex(count: number): void;
}

export interface Repaired {
  /** In the order in which they are to be played. */
  commands: Uint8Array[];
  /** System-exclusive messages that are lost for good. */
  lostSysex: number;
  /** True if there was more to make good than one packet may bring. */
  isCut: boolean;
}

/** The most commands that one journal may bring: all notes and controllers of a channel, and then some. */
export const MOST_REPAIRS = 4096;

export function createRepairs(
  history: History,
  { packet, isFirst, gapMs, now }: { packet: number; isFirst: boolean; gapMs: number; now: number },
): { repairs: Repairs; done(): Repaired } {
  const commands: Uint8Array[] = [];
  let lostSysex = 0;
  let isCut = false;
  const pass = (...bytes: number[]): void => takeCommand(history, Uint8Array.from(bytes), packet, now);
  const repairs: Repairs = {
    history,
    isFirst,
    gapMs,
    pass,
    play(...bytes) {
      pass(...bytes);
      if (commands.length < MOST_REPAIRS) commands.push(Uint8Array.from(bytes));
      else isCut = true;
    },
    playOften(times, ...bytes) {
      const fits = Math.min(times, MOST_REPAIRS - commands.length);
      for (let n = 0; n < fits; n++) repairs.play(...bytes);
      if (fits < times) isCut = true;
    },
    loseSysex(count) {
      lostSysex += count;
    },
  };
  return { repairs, done: () => ({ commands, lostSysex, isCut }) };
}
