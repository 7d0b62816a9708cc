/**
 * Fades DMX slots from their current levels to others. Whatever else is sent to a slot ends its fade. Given the time; reads no clock. Forty universes
 * may fade at once, so slots that start together are kept in flat lists.
 */
import type { SlotSignal } from '../signal.js';
import { beatComesAt, paceOf, STEADY, type Pace, type Span, type TempoNow } from '../time/span.js';
import { MOVE_MS } from '../time/pace.js';
import { createLevels, type Fading, type Levels } from './levels.js';

export interface FadeTo {
  /** Index of the line. */
  line: number;
  /** Slots with their end levels: 0–255, or 0–65,535 if `fine`. */
  levels: readonly (readonly [slot: number, level: number])[];
  /** True if each slot and the next one are the coarse and the fine byte of one level. */
  fine: boolean;
  over: Span;
  /** Maps 0–1 to 0–1; straight by default. */
  curve?: (part: number) => number;
  /** Id of the mapping or moment that fades. */
  sender: string;
  muted: boolean;
  /** The step to credit it to (core/because). */
  because?: number;
}

export interface Fades {
  start(fade: FadeTo, now: number): void;
  /** Stops the fades of some senders where they are. */
  stop(ofSender: (sender: string) => boolean): void;
  /** Returns the number of slots that are fading. */
  running(): number;
  /** When `wake` is due, in monotonic ms; Infinity if nothing fades. */
  wakeAt(): number;
  wake(now: number): void;
}

/** Slots that started to fade together. */
interface Group extends Fading {
  line: number;
  slots: Uint16Array;
  from: Float64Array;
  to: Float64Array;
  /** The last level of each slot. Only a different one is sent. */
  last: Int32Array;
  signals: SlotSignal[];
  /** The signals of the second slots of fine levels. */
  fineSignals: SlotSignal[] | null;
  pace: Pace;
  curve: ((part: number) => number) | undefined;
  sender: string;
  muted: boolean;
  because: number;
}

/**
 * @param known the current levels. Fades that share it never fade the same slot: the later one takes it
 * @param tempo that fades in beats follow
 */
export function createFades(
  put: (line: number, signal: SlotSignal, sender: string, muted: boolean, because: number) => void,
  known: Levels = createLevels(),
  tempo: TempoNow = STEADY,
): Fades {
  const { universeOf } = known;
  let groups: Group[] = [];
  let next = Infinity;
  /** The first beat at which something in beats ends. */
  let nextBeat = Infinity;

  function send(group: Group, at: number, whole: number): void {
    const signal = group.signals[at]!;
    signal.level = group.fineSignals ? whole >> 8 : whole;
    put(group.line, signal, group.sender, group.muted, group.because);
    if (!group.fineSignals) return;
    const fine = group.fineSignals[at]!;
    fine.level = whole & 0xff;
    put(group.line, fine, group.sender, group.muted, group.because);
  }

  /** Moves the slots of a group that have not been taken by others. @returns whether any are left */
  function move(group: Group, now: number): boolean {
    const { fading } = universeOf(group.line);
    const { slots, from, to, last } = group;
    const part = group.pace.part(now);
    const bent = part === 1 || !group.curve ? part : group.curve(part);
    let left = false;
    for (let at = 0; at < slots.length; at++) {
      const slot = slots[at]!;
      if (fading[slot] !== group) continue;
      const whole = Math.round(from[at]! + (to[at]! - from[at]!) * bent);
      if (part === 1) fading[slot] = null;
      else left = true;
      // The end is always sent: the slot may not have been sent anything yet.
      if (whole === last[at] && part < 1) continue;
      last[at] = whole;
      send(group, at, whole);
    }
    return left;
  }

  /** An end in beats comes sooner if the tempo has become faster since the last look. */
  const dueAt = (): number => Math.min(next, beatComesAt(nextBeat, tempo));

  const hasEnded = (group: Group): boolean => {
    const { fading } = universeOf(group.line);
    return !group.slots.some((slot) => fading[slot] === group);
  };

  return {
    start({ line, levels: wished, fine: wide, over, curve, sender, muted, because = 0 }, now) {
      if (line < 0) return;
      const { levels, fading } = universeOf(line);
      const fine = wide && wished.every(([slot]) => slot < 512);
      const from = wished.map(([slot]) => (fine ? (levels[slot]! << 8) | levels[slot + 1]! : levels[slot]!));
      const signal = (slot: number): SlotSignal => ({ kind: 'slot', slot, level: 0 });
      const group: Group = {
        line,
        slots: Uint16Array.from(wished, ([slot]) => slot),
        from: Float64Array.from(from),
        to: Float64Array.from(wished, ([, level]) => level),
        last: Int32Array.from(from),
        signals: wished.map(([slot]) => signal(slot)),
        isFine: fine,
        fineSignals: fine ? wished.map(([slot]) => signal(slot + 1)) : null,
        pace: paceOf(over, now, tempo),
        curve,
        sender,
        muted,
        because,
      };
      for (const [slot] of wished) fading[slot] = group;
      groups = [...groups.filter((one) => !hasEnded(one)), group];
      next = Math.min(next, now + MOVE_MS, group.pace.endsAt());
      nextBeat = Math.min(nextBeat, group.pace.endBeat);
    },
    stop(ofSender) {
      groups = groups.filter((group) => {
        if (!ofSender(group.sender)) return true;
        const { fading } = universeOf(group.line);
        for (const slot of group.slots) if (fading[slot] === group) fading[slot] = null;
        return false;
      });
      if (groups.length === 0) next = nextBeat = Infinity;
    },
    running: () => {
      let count = 0;
      for (const group of groups)
        for (const slot of group.slots) if (universeOf(group.line).fading[slot] === group) count++;
      return count;
    },
    wakeAt: dueAt,
    wake(now) {
      if (now < dueAt()) return;
      nextBeat = Infinity;
      let end = Infinity;
      known.moving = true;
      groups = groups.filter((group) => {
        const left = move(group, now);
        if (left) {
          end = Math.min(end, group.pace.endsAt());
          nextBeat = Math.min(nextBeat, group.pace.endBeat);
        }
        return left;
      });
      known.moving = false;
      next = groups.length === 0 ? Infinity : Math.min(now + MOVE_MS, end);
    },
  };
}
