/** Plays MIDI timecode, well or badly on demand. Its messages are made by a package that is not ours. Given the time; reads no clock. */
import JZZ from 'jzz';

/** The frame rates, as the package and people write them. */
export const RATES = { '24': 24, '25': 25, '29.97df': 29.97, '30': 30 } as const;
export type Rate = keyof typeof RATES;

/** The real frames a second of each. */
export const FPS: Record<Rate, number> = { '24': 24, '25': 25, '29.97df': 30_000 / 1001, '30': 30 };

export interface Clock {
  start(now: number): void;
  /** @returns the message that says where it stands */
  stop(): number[][];
  /** Goes to a place. @param text `01:02:03:04`. @returns the message that says so */
  locate(text: string, now: number): number[][];
  setRate(rate: Rate): void;
  /** 0.25–4 */
  setSpeed(speed: number, now: number): void;
  /** Each message comes up to this many ms late. */
  setJitter(ms: number): void;
  /** Says nothing for some ms, and runs on meanwhile. */
  gap(ms: number, now: number): void;
  /** Runs a thousandth slower than it says. */
  setSlow(slow: boolean, now: number): void;
  /** Returns everything that is due by now, in order. */
  due(now: number): number[][];
  readonly state: {
    playing: boolean;
    at: string;
    rate: Rate;
    speed: number;
    jitterMs: number;
    slow: boolean;
  };
}

/** More messages than this are never sent at once: the clock goes on from now instead. */
const MOST_AT_ONCE = 64;

/** @param random numbers from 0 to 1, for the jitter */
export function createClock(random: () => number): Clock {
  let rate: Rate = '25';
  let time = JZZ.SMPTE(RATES[rate], 1, 0, 0, 0);
  let playing = false;
  let speed = 1;
  let jitterMs = 0;
  let slow = false;
  let silentUntil = -Infinity;
  /** The quarters that were played since `from`. */
  let played = 0;
  let from = 0;
  let lateNow = 0;

  const betweenMs = (): number => 250 / FPS[rate] / speed / (slow ? 1000 / 1001 : 1);
  const full = (): number[] => [...JZZ.MIDI.sxFullFrame(time)];
  const restart = (now: number): void => {
    // The next quarter keeps its instant.
    from = from + played * betweenMs();
    if (!playing) from = now;
    played = 0;
  };
  /** A set of quarter frames begins at every second frame. */
  const toSet = (): void => {
    time.setQuarter(0);
    if (time.getFrame() % 2 === 1) time.incrFrame();
  };

  return {
    start(now) {
      if (playing) return;
      playing = true;
      toSet();
      from = now;
      played = 0;
    },
    stop() {
      playing = false;
      time.setQuarter(0);
      return [full()];
    },
    locate(text, now) {
      const [hours, minutes, seconds, frames] = text.split(/[:;]/).map(Number);
      time = JZZ.SMPTE(RATES[rate], hours, minutes, seconds, frames);
      if (playing) toSet();
      restart(now);
      if (playing) from = now;
      return [full()];
    },
    setRate(next) {
      rate = next;
      time = JZZ.SMPTE(RATES[rate], time.getHour(), time.getMinute(), time.getSecond(), 0);
    },
    setSpeed(next, now) {
      restart(now);
      speed = next;
    },
    setJitter(ms) {
      jitterMs = ms;
    },
    gap(ms, now) {
      silentUntil = now + ms;
    },
    setSlow(next, now) {
      restart(now);
      slow = next;
    },
    due(now) {
      const out: number[][] = [];
      if (!playing) return out;
      for (let sent = 0; sent < MOST_AT_ONCE && from + played * betweenMs() + lateNow <= now; sent++) {
        if (now >= silentUntil) out.push([...JZZ.MIDI.mtc(time)]);
        time.incrQF();
        played++;
        lateNow = random() * jitterMs;
      }
      return out;
    },
    get state() {
      return { playing, at: time.toString(), rate, speed, jitterMs, slow };
    },
  };
}

const START = 0xfa;
const STOP = 0xfc;
const CLOCKS_PER_BEAT = 24;

/** Plays MIDI clock, with start and stop. */
export interface Drummer {
  /** @returns the message that says so */
  start(now: number): number[][];
  stop(): number[][];
  /** 20 to 400 beats a minute; the beat goes on. */
  setTempo(bpm: number, now: number): void;
  setJitter(ms: number): void;
  due(now: number): number[][];
  readonly state: { drumming: boolean; bpm: number };
}

export function createDrummer(random: () => number): Drummer {
  let drumming = false;
  let bpm = 104;
  let jitterMs = 0;
  let from = 0;
  let played = 0;
  let late = 0;
  const betweenMs = (): number => 60_000 / bpm / CLOCKS_PER_BEAT;
  return {
    start(now) {
      drumming = true;
      from = now;
      played = 0;
      return [[START]];
    },
    stop() {
      drumming = false;
      return [[STOP]];
    },
    setTempo(next) {
      from += played * betweenMs();
      played = 0;
      bpm = next;
    },
    setJitter(ms) {
      jitterMs = ms;
    },
    due(now) {
      const out: number[][] = [];
      if (!drumming) return out;
      for (let sent = 0; sent < MOST_AT_ONCE && from + played * betweenMs() + late <= now; sent++) {
        out.push([...JZZ.MIDI.clock()]);
        played++;
        late = random() * jitterMs;
      }
      return out;
    },
    get state() {
      return { drumming, bpm };
    },
  };
}

/** The tempo of the clocks that are received, over the last beat; null for none. */
export interface TempoReader {
  /** @returns whether it was a clock */
  hear(bytes: Uint8Array, now: number): boolean;
  tempo(now: number): number | null;
}

export function createTempoReader(): TempoReader {
  let times: number[] = [];
  return {
    hear(bytes, now) {
      if (String(JZZ.MIDI([...bytes])) !== String(JZZ.MIDI.clock())) return false;
      times = [...times, now].slice(-CLOCKS_PER_BEAT - 1);
      return true;
    },
    tempo(now) {
      if (times.length <= CLOCKS_PER_BEAT || now - times.at(-1)! > 3000) return null;
      return 60_000 / (times.at(-1)! - times[0]!);
    },
  };
}

/** What a receiver understands of timecode: read by the same package. */
export interface Reader {
  /** @returns whether it was timecode */
  hear(bytes: Uint8Array): boolean;
  readonly state: { at: string | null; rate: number | null; count: number };
}

export function createReader(): Reader {
  const time = JZZ.SMPTE(25);
  let count = 0;
  return {
    hear(bytes) {
      if (!time.read(JZZ.MIDI([...bytes]))) return false;
      count++;
      return true;
    },
    get state() {
      return count === 0
        ? { at: null, rate: null, count }
        : { at: time.toString(), rate: time.getType(), count };
    },
  };
}
