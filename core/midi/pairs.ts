/**
 * What several controllers say together (MIDI 1.0, "Control Change" and "Registered and Non-Registered Parameter Numbers"; from memory).
 *
 * | controllers | what |
 * |---|---|
 * | 0–31 and 32–63 | the high and the low seven bits of one of fourteen |
 * | 99 98, or 101 100 | the high and low seven bits of the number of a maker's own, or a registered, parameter |
 * | 6 38 | the high and low seven bits of what the chosen parameter is set to |
 * | 96 97 | one more, one less |
 *
 * A high part alone sets the low part to 0. Where a low part has ever come, a high part waits for it: a fader of fourteen bits then says
 * each place once, and does not jump between.
 */
import type { ChannelSignal } from '../signal.js';

/** Value 0–16,383. */
export interface Assembled {
  /** 0–31, or a parameter 0–16,383 */
  number: number;
  value: number;
}

export interface AssembledParameter extends Assembled {
  registered: boolean;
}

export interface Assembler<T extends Assembled> {
  /** A controller that came. @returns what it completed; the same object every time, or null */
  take(channel: number, number: number, value: number): T | null;
}

export function createPairs(): Assembler<Assembled> {
  const high = new Uint8Array(16 * 32);
  const paired = new Uint8Array(16 * 32);
  const made: Assembled = { number: 0, value: 0 };
  return {
    take(channel, number, value) {
      if (number >= 64) return null;
      const at = channel * 32 + (number & 31);
      made.number = number & 31;
      if (number >= 32) {
        paired[at] = 1;
        made.value = (high[at]! << 7) | value;
        return made;
      }
      high[at] = value;
      made.value = value << 7;
      return paired[at] ? null : made;
    },
  };
}

interface Chosen {
  registered: boolean;
  high: number;
  low: number;
  value: number;
  paired: boolean;
}

/** Parameter 127 127 is none (the null function). */
const NONE = 0x3fff;

export function createParameters(): Assembler<AssembledParameter> {
  const chosen: Chosen[] = Array.from({ length: 16 }, () => ({
    registered: false,
    high: 127,
    low: 127,
    value: 0,
    paired: false,
  }));
  const made: AssembledParameter = { registered: false, number: 0, value: 0 };

  function choose(one: Chosen, registered: boolean, part: 'high' | 'low', value: number): null {
    if (one.registered !== registered || one[part] !== value) {
      one.value = 0;
      one.paired = false;
    }
    one.registered = registered;
    one[part] = value;
    return null;
  }
  function set(one: Chosen, value: number): AssembledParameter | null {
    one.value = Math.max(0, Math.min(0x3fff, value));
    made.registered = one.registered;
    made.number = (one.high << 7) | one.low;
    made.value = one.value;
    return made.number === NONE ? null : made;
  }

  return {
    take(channel, number, value) {
      const one = chosen[channel]!;
      switch (number) {
        case 99:
        case 101:
          return choose(one, number === 101, 'high', value);
        case 98:
        case 100:
          return choose(one, number === 100, 'low', value);
        case 6: {
          const found = set(one, value << 7);
          return one.paired ? null : found;
        }
        case 38:
          one.paired = true;
          return set(one, (one.value & 0x3f80) | value);
        case 96:
          return set(one, one.value + 1);
        case 97:
          return set(one, one.value - 1);
        default:
          return null;
      }
    },
  };
}

/** What a controller completed: one of fourteen bits, a parameter, or neither. */
export interface Completed {
  pair: Assembled | null;
  parameter: AssembledParameter | null;
}

export interface LineAssembler {
  /** A controller that came on a line, by its index. @returns the same object every time */
  take(line: number, signal: ChannelSignal): Completed;
}

/** Combines what comes on each line by itself. */
export function createLineAssembler(): LineAssembler {
  const lines: ({ pairs: Assembler<Assembled>; parameters: Assembler<AssembledParameter> } | undefined)[] =
    [];
  const completed: Completed = { pair: null, parameter: null };
  return {
    take(line, { channel, number, value }) {
      const { pairs, parameters } = (lines[line] ??= {
        pairs: createPairs(),
        parameters: createParameters(),
      });
      completed.pair = pairs.take(channel, number, value);
      completed.parameter = parameters.take(channel, number, value);
      return completed;
    },
  };
}
