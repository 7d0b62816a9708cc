/** The sources of timecode: what each one hears, and which of them counts. Given the time; reads no clock. */
import type { TimecodeSettings } from '../show/time.js';
import { isChannelSignal, type Signal } from '../signal.js';
import { ratesOfCode, RATES, RATE_OF_CODE, type FrameRate } from '../timecode/frame-rate.js';
import { msOf } from '../timecode/timecode.js';
import { createChase, type Chase, type ChaseQuality } from './chase.js';
import { AUTO, OWN, type Motion, type PositionAct } from './position.js';
import { TIME_WAYS, type TimeSource } from './ways.js';
import type { Reader, Said } from './ways/way.js';

/** A source that is silent for longer than this is in a gap: the longest time between two sets of quarter frames at 24 frames a second. */
export const GAP_MS = 100;

export interface SourceState {
  /**
   * - `silent`: nothing is heard
   * - `locking`: not enough frames in a row were good yet
   * - `locked`
   * - `gap`: it was locked, and is silent now
   * - `standing`: it said where it stands
   */
  state: 'silent' | 'locking' | 'locked' | 'gap' | 'standing';
  /** The rate that it is read at; null before anything was heard. */
  rate: FrameRate | null;
  /** Position with its offset; null while it is unknown. */
  motion: Motion | null;
  /** When it was last heard, in monotonic ms; null for never. */
  lastAt: number | null;
  quality: ChaseQuality;
}

/** What a signal has changed: at which source, and how; or what machine control asks of our own position. */
export type Heard = SourceEvent | { what: 'asked'; act: PositionAct };

export interface SourceEvent {
  id: string;
  /** `locked` and `jumped`: the position runs on from `beganMs`. `stands`: it stands at `beganMs`. */
  what: 'moved' | 'locked' | 'jumped' | 'stands';
  beganMs: number;
}

export interface Sources {
  /** @param lineOf finds the index of a line; -1 if it does not exist */
  load(rows: readonly TimeSource[], settings: TimecodeSettings, lineOf: (id: string | null) => number): void;
  /** Whether any source listens to a line. */
  on(line: number): boolean;
  /** Takes a signal. @param at the instant that it is about. @param now when it arrived. @returns what it changed; null for nothing */
  hear(line: number, signal: Signal, at: number, now: number): Heard | null;
  /** The input of a line is gone. */
  gone(line: number): void;
  /** Forgets sources that are silent for too long. @returns whether there were any */
  expire(now: number): boolean;
  /** Which source counts: the one that does now as long as it is there, or a better one. @param chosen `auto`, `own` or an id. @param now monotonic ms */
  pick(current: string, chosen: string, now: number): string | null;
  /** Where a source is; null while it is not locked. */
  motionOf(id: string, now: number): Motion | null;
  /** Whether what is heard of a source now does not fit where it was: it may have jumped, which a few frames will tell. */
  isDoubted(id: string, now: number): boolean;
  /** How long a source has been silent, in ms. */
  silence(id: string, now: number): number;
  /** When the silence of a source has to be looked at next. */
  lookAt(id: string): number;
  stateOf(id: string, now: number): SourceState | null;
  ids(): readonly string[];
}

interface Source {
  row: TimeSource;
  line: number;
  reader: Reader;
  chase: Chase | null;
  /** The rate that `chase` counts in. */
  rate: FrameRate | null;
  /** Where it said that it stands, without its offset; null while it runs. */
  standsAt: number | null;
  /** When it was last heard, and when it was last heard to go on. Sound tells of frames that began a while ago. */
  lastAt: number;
  goodAt: number;
  /** Nothing that it said before counts any more. */
  forgotten: boolean;
}

export function createSources(): Sources {
  let sources: Source[] = [];
  let settings!: TimecodeSettings;
  const byId = (id: string): Source | undefined => sources.find(({ row }) => row.id === id);

  function opened(row: TimeSource, line: number): Source {
    const rateOf = (code: number | null): FrameRate => rateFor(row.frameRate, code);
    const reader = TIME_WAYS[row.kind].reader!(row, { rateOf });
    return {
      row,
      line,
      reader,
      chase: null,
      rate: null,
      standsAt: null,
      lastAt: -Infinity,
      goodAt: -Infinity,
      forgotten: true,
    };
  }

  /** The code does not tell a rate from the same pulled down. The row says it, or else the show. */
  function rateFor(ofRow: FrameRate | null, code: number | null): FrameRate {
    if (code === null) return ofRow ?? settings.frameRate;
    const fits = ratesOfCode(code);
    const wanted = [ofRow, settings.frameRate].find((rate) => rate !== null && fits.includes(rate));
    return wanted ?? RATE_OF_CODE[code]!;
  }

  function countIn(source: Source, rate: FrameRate): Chase {
    if (!source.chase || source.rate !== rate) {
      source.chase = createChase(RATES[rate].fps, settings.lockFrames);
      source.rate = rate;
    }
    return source.chase;
  }

  /** It was silent for too long: it has to lock again. What it has just begun to say from another place counts on. */
  function forget(source: Source, now: number): void {
    if (source.chase?.lose(now - GAP_MS)) return;
    source.reader.reset();
    source.forgotten = true;
  }

  function hearOn(source: Source, signal: Signal, at: number, now: number): Heard | null {
    if (!source.forgotten && now - source.lastAt > settings.rideMs) forget(source, now);
    const said = source.reader.read(signal, at);
    if (!said) return null;
    source.lastAt = now;
    source.forgotten = false;
    return made(source, said, at, now);
  }

  /** What becomes of what a source said. */
  function made(source: Source, said: Said, at: number, now: number): Heard | null {
    const { id, offsetMs } = source.row;
    switch (said.says) {
      case 'more':
        return null;
      case 'runs': {
        const chase = countIn(source, said.rate);
        const what = chase.heard(said.frame, said.step, at, said.from);
        if (what === 'none') return null;
        source.standsAt = null;
        source.goodAt = now;
        return { id, what, beganMs: msOf(chase.began(), said.rate) + offsetMs };
      }
      case 'stands':
        countIn(source, said.rate).lose();
        source.standsAt = msOf(said.frame, said.rate);
        return { id, what: 'stands', beganMs: source.standsAt + offsetMs };
      case 'asks': {
        if (typeof said.to === 'string') return { what: 'asked', act: { do: said.to } };
        return { what: 'asked', act: { do: 'locate', ms: msOf(said.to.frame, said.to.rate) + offsetMs } };
      }
    }
  }

  /** When a source was last heard to go on. One that sends, but says nothing that goes on, is as good as silent. */
  const goodAt = ({ chase, lastAt, goodAt: at }: Source): number => (chase?.isLocked() ? at : lastAt);

  const isThere = (source: Source | undefined, now: number, within: number): source is Source =>
    source?.chase?.isLocked() === true && now - goodAt(source) <= within;

  function motion({ chase, rate, row }: Source, now: number): Motion | null {
    const frame = chase?.isLocked() ? chase.frameAt(now) : null;
    if (frame === null || rate === null) return null;
    return { ms: msOf(frame, rate) + row.offsetMs, at: now, speed: chase!.speed() };
  }

  function wordsOf(source: Source, now: number): SourceState['state'] {
    const { chase, standsAt, lastAt } = source;
    if (standsAt !== null) return 'standing';
    const silent = now - goodAt(source);
    if (chase?.isLocked() && silent <= settings.rideMs) return silent > GAP_MS ? 'gap' : 'locked';
    return now - lastAt <= GAP_MS ? 'locking' : 'silent';
  }

  return {
    load(rows, next, lineOf) {
      const anew = settings?.frameRate !== next.frameRate || settings.lockFrames !== next.lockFrames;
      settings = next;
      const ours = rows.filter(({ kind }) => TIME_WAYS[kind].of === 'position');
      sources = ours.map((row) => {
        const line = lineOf(row.lineId);
        const before = byId(row.id);
        const kept = before && !anew && before.line === line && isSameBut(before.row, row);
        return kept ? Object.assign(before, { row }) : opened(row, line);
      });
    },
    on: (line) => sources.some((one) => one.line === line),
    hear(line, signal, at, now) {
      if (isChannelSignal(signal) || signal.kind === 'slot') return null;
      let heard: Heard | null = null;
      for (const source of sources)
        if (source.line === line) heard = hearOn(source, signal, at, now) ?? heard;
      return heard;
    },
    gone(line) {
      for (const source of sources) if (source.line === line) source.reader.reset();
    },
    expire(now) {
      let any = false;
      for (const source of sources) {
        if (!source.chase?.isLocked() || now - goodAt(source) <= settings.rideMs) continue;
        forget(source, now);
        any = true;
      }
      return any;
    },
    pick(current, chosen, now) {
      if (chosen === OWN) return null;
      const kept = byId(current);
      if (chosen !== AUTO) return isThere(byId(chosen), now, settings.rideMs) ? chosen : null;
      const best = sources.find((source) => isThere(source, now, GAP_MS));
      if (!isThere(kept, now, settings.rideMs)) return best?.row.id ?? null;
      return best && settings.goesBack && sources.indexOf(best) < sources.indexOf(kept)
        ? best.row.id
        : current;
    },
    motionOf(id, now) {
      const source = byId(id);
      return source ? motion(source, now) : null;
    },
    isDoubted(id, now) {
      const source = byId(id);
      return !!source?.chase?.isLocked() && source.lastAt > source.goodAt && now - source.lastAt <= GAP_MS;
    },
    silence(id, now) {
      const source = byId(id);
      return source ? now - goodAt(source) : Infinity;
    },
    lookAt(id) {
      const source = byId(id);
      return source?.chase?.isLocked() ? goodAt(source) + Math.min(GAP_MS, settings.rideMs) : Infinity;
    },
    stateOf(id, now) {
      const source = byId(id);
      if (!source) return null;
      const { standsAt, row, rate, lastAt, chase } = source;
      const state = wordsOf(source, now);
      const stands = standsAt === null ? null : { ms: standsAt + row.offsetMs, at: now, speed: 0 };
      return {
        state,
        rate,
        motion: stands ?? motion(source, now),
        lastAt: lastAt === -Infinity ? null : lastAt,
        quality: chase?.quality() ?? NOTHING,
      };
    },
    ids: () => sources.map(({ row }) => row.id),
  };
}

const NOTHING: ChaseQuality = {
  lockedSince: null,
  lost: 0,
  longestGapMs: 0,
  jitterMs: 0,
  offMs: 0,
  longSpeed: null,
};

/** Compares two rows of a source, but for their offset. */
const isSameBut = (a: TimeSource, b: TimeSource): boolean =>
  JSON.stringify({ ...a, offsetMs: 0 }) === JSON.stringify({ ...b, offsetMs: 0 });
