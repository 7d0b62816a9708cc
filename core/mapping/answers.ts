/**
 * Feedback to the controls of mappings. A lamp is lit while the value of its mapping is above 0, or while its bank is on. A motor fader moves to the
 * place from which it would send the receiver's current value. Nothing is told twice, and echoes are ignored, so that no loop can start.
 */
import type { ChannelSignal, Signal } from '../signal.js';
import { timeOf, type Tempo } from '../time/tempo.js';
import type { Answer } from '../show/answer.js';
import { followsNumber, movedOn, placeOf, type Send } from '../sends.js';
import { withVoices, type CompiledMapping, ownRange } from './compiled.js';
import { placeOfSignal, placeOn, placeOnLine } from '../place.js';
import { curveValue, finishValue } from './shape.js';

/** A message within this time of what a lamp was told is its echo: nobody presses twice so soon. A motor takes longer. */
const LAMP_ECHO_MS = 60;
const MOTOR_ECHO_MS = 300;

/** Lamps that are told something at once: no more than a few milliseconds. The others follow as soon as other things have had their turn. */
const MOST_AT_ONCE = 256;

interface Told {
  mapping: CompiledMapping;
  answer: Answer;
  /** Index of the line; -1 if it does not exist. */
  line: number;
  muted: boolean;
  signal: ChannelSignal;
  /** The last value it was told; -1 for none yet. */
  last: number;
  lastAt: number;
  /** For a motor fader: the receiver's current value, in the units of the send; null if unknown. */
  farEnd: number | null;
  /** For a motor fader: what it would send from each of its places; null until it is asked. */
  places: readonly number[] | null;
}

export interface AnswersStage {
  put(line: number, signal: Signal, sender: string, muted: boolean): void;
  isBankOn(id: string): boolean;
  tempo(): Tempo;
}

/** The line of an answer. */
export interface AnswerLine {
  line: number;
  muted: boolean;
}

export interface Answers {
  load(mappings: Iterable<CompiledMapping>, lineOf: (id: string | null) => AnswerLine): void;
  /** Replaces one mapping; null for none. */
  replace(before: CompiledMapping | null, after: CompiledMapping | null): void;
  /** The mapping did something that its lamp may show. */
  touch(mapping: CompiledMapping): void;
  /** A bank or the tempo changed, which any lamp may show. */
  touchAll(): void;
  /** A controller is connected again and must be told everything. @param line its index; null for all */
  forget(line: number | null): void;
  /** Returns whether any mapping has an answer. Without one, nothing has to be flushed. */
  any(): boolean;
  /** Returns whether any motor fader follows what is sent. */
  follows(): boolean;
  /** Something was sent on a line. */
  saw(line: number, signal: Signal, sender: string): void;
  /** Returns whether a signal is the echo of what the mapping's lamp or motor was just told. */
  isEcho(mapping: CompiledMapping, line: number, signal: Signal, now: number): boolean;
  /** The control has sent this value, so its motor fader is already there. */
  ownPlace(mapping: CompiledMapping, value: number): void;
  /** Sends what has changed. */
  flush(now: number): void;
  wakeAt(): number;
}

const PLACES = 128;

/** Returns what a motor fader would send from each of its places, in the units of the first send. */
function placesOf({ source }: CompiledMapping): number[] {
  const { shape, sends } = source;
  const own = ownRange(shape.out, sends[0]?.range ?? null);
  const [low, high] = [Math.min(...shape.in), Math.max(...shape.in)];
  return Array.from({ length: PLACES }, (_, place) => {
    const heard = low + (place / (PLACES - 1)) * (high - low);
    return own(finishValue(shape, curveValue(shape, heard)));
  });
}

function nearest(places: readonly number[], value: number): number {
  let best = 0;
  for (let place = 1; place < places.length; place++)
    if (Math.abs(places[place]! - value) < Math.abs(places[best]! - value)) best = place;
  return best;
}

/** Returns the value that a signal sets its place to; null if it sets none. */
function valueOfSignal(signal: Signal): number | null {
  switch (signal.kind) {
    case 'slot':
      return signal.level;
    case 'controlChange':
      return signal.value;
    case 'osc': {
      const arg = signal.args.find(({ type }) => type === 'f' || type === 'i' || type === 'd');
      return arg && 'value' in arg ? Number(arg.value) : null;
    }
    default:
      return null;
  }
}

/** Returns the place that a send moves, for the voice at a distance of `step`. */
function followedPlace(line: number, send: Send, step: number): string | null {
  const moved = followsNumber(send) ? movedOn(send, step) : send;
  const place = moved && placeOf(moved);
  return place === null ? null : placeOnLine(line, place);
}

const isLit = (mapping: CompiledMapping): boolean =>
  mapping.sends.some((send) => send.sounding) ||
  (mapping.shaped > 0 && mapping.sends.some((send) => send.releases.length === 0));

export function createAnswers({ put, isBankOn, tempo }: AnswersStage): Answers {
  const told = new Map<CompiledMapping, Told>();
  let lineOf: (id: string | null) => AnswerLine = () => ({ line: -1, muted: false });
  let withAnswer = new Set<CompiledMapping>();
  /** Motor faders by the place that they follow. */
  let followed = new Map<string, Told[]>();
  /** Those whose lamp may have to be told something else. What is told of one is made when it is looked at. */
  const changed = new Set<CompiledMapping>();
  let blinkAt = Infinity;
  /** When the lamps are told that were left out, because there were too many at once. */
  let restAt = Infinity;

  function make(mapping: CompiledMapping): Told | null {
    const { answer } = mapping.source;
    const own = answer && placeOn(answer.channel, answer.number, mapping.step);
    if (!answer || !own) return null;
    const kind = answer.kind === 'note' ? 'noteOn' : 'controlChange';
    const one: Told = {
      mapping,
      answer,
      ...lineOf(answer.lineId),
      signal: { kind, ...own, value: 0 },
      last: -1,
      lastAt: -Infinity,
      farEnd: null,
      places: null,
    };
    told.set(mapping, one);
    const [send] = mapping.source.sends;
    const place =
      answer.shows === 'position' && send ? followedPlace(mapping.sends[0]!.line, send, mapping.step) : null;
    if (place === null) return one;
    const following = followed.get(place);
    if (following) following.push(one);
    else followed.set(place, [one]);
    return one;
  }

  const of = (mapping: CompiledMapping): Told | null =>
    withAnswer.has(mapping.root) ? (told.get(mapping) ?? make(mapping)) : null;

  /** Returns the value that it has to show now; null if unknown. */
  function wanted(one: Told, now: number): number | null {
    const { mapping, answer, farEnd } = one;
    if (answer.shows === 'position')
      return farEnd === null ? null : nearest((one.places ??= placesOf(mapping)), farEnd);
    const lit =
      answer.shows === 'bank'
        ? answer.bankId !== null && isBankOn(answer.bankId)
        : isLit(mapping) && mapping.live;
    if (!lit) return answer.off;
    if (answer.blinkBeats === 0) return answer.on;
    const { bpm, since } = tempo();
    const half = answer.blinkBeats / 2;
    // Within a thousandth of a beat counts as on time: timers are not exact.
    const halves = Math.floor(((now - since) * bpm) / 60_000 / half + 1e-3);
    blinkAt = Math.min(blinkAt, timeOf({ bpm, since }, (halves + 1) * half));
    return halves % 2 === 0 ? answer.on : answer.off;
  }

  function tell(one: Told, now: number): void {
    const value = wanted(one, now);
    if (value === null || value === one.last || one.line < 0) return;
    // A muted line is told again when it can be.
    if (!one.muted) {
      one.last = value;
      one.lastAt = now;
    }
    one.signal.value = value;
    put(one.line, { ...one.signal }, one.mapping.source.id, one.muted);
  }

  return {
    load(mappings, where) {
      lineOf = where;
      withAnswer = new Set();
      followed = new Map();
      const before = new Map(told);
      told.clear();
      for (const root of mappings) {
        if (!root.source.answer) continue;
        withAnswer.add(root);
        for (const mapping of withVoices(root)) {
          changed.add(mapping);
          const known = before.get(mapping);
          // A motor fader must be there to follow what is sent.
          if (!known && root.source.answer.shows !== 'position') continue;
          const one = make(mapping);
          if (one && known && known.answer === one.answer && known.line === one.line) {
            one.last = known.last;
            one.lastAt = known.lastAt;
            one.farEnd = known.farEnd;
          }
        }
      }
    },
    replace(before, after) {
      if (before && withAnswer.delete(before)) {
        for (const one of withVoices(before)) told.delete(one);
        for (const [place, list] of followed)
          followed.set(
            place,
            list.filter(({ mapping }) => mapping.root !== before),
          );
      }
      if (!after?.source.answer) return;
      withAnswer.add(after);
      make(after);
      changed.add(after);
    },
    touch(mapping) {
      if (withAnswer.has(mapping.root)) changed.add(mapping);
    },
    touchAll() {
      for (const mapping of told.keys()) changed.add(mapping);
    },
    forget(line) {
      for (const one of told.values()) {
        if (line !== null && one.line !== line) continue;
        one.last = -1;
        changed.add(one.mapping);
      }
    },
    any: () => withAnswer.size > 0,
    follows() {
      for (const { source } of withAnswer) if (source.answer!.shows === 'position') return true;
      return false;
    },
    saw(line, signal, sender) {
      if (followed.size === 0) return;
      const value = valueOfSignal(signal);
      const place = value === null ? null : placeOfSignal(signal);
      if (place === null) return;
      for (const one of followed.get(placeOnLine(line, place)) ?? []) {
        if (one.mapping.source.id === sender) continue;
        one.farEnd = value;
        changed.add(one.mapping);
      }
    },
    isEcho(mapping, line, signal, now) {
      const one = withAnswer.size === 0 ? null : of(mapping);
      if (!one || one.line !== line || !('channel' in signal)) return false;
      const echoMs = one.answer.shows === 'position' ? MOTOR_ECHO_MS : LAMP_ECHO_MS;
      if (now - one.lastAt > echoMs) return false;
      const same = signal.channel === one.signal.channel && signal.number === one.signal.number;
      return same && signal.value === one.last && signal.kind === one.signal.kind;
    },
    ownPlace(mapping, value) {
      const one = withAnswer.size === 0 ? null : of(mapping);
      if (one?.answer.shows !== 'position') return;
      one.last = value;
      one.farEnd = null;
    },
    flush(now) {
      if (changed.size === 0 && now < blinkAt) return;
      if (now >= blinkAt) {
        blinkAt = Infinity;
        for (const one of told.values()) if (one.answer.blinkBeats > 0) changed.add(one.mapping);
      }
      let most = MOST_AT_ONCE;
      for (const mapping of changed) {
        if (most-- === 0) break;
        changed.delete(mapping);
        const one = of(mapping);
        if (one) tell(one, now);
      }
      restAt = changed.size > 0 ? now : Infinity;
    },
    wakeAt: () => (withAnswer.size === 0 ? Infinity : Math.min(blinkAt, restAt)),
  };
}
