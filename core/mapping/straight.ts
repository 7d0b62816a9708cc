/**
 * The shortest path of a signal: a mapping without conditions, state, delay or release sends what it has shaped, at once. Most mappings are
 * like that. It does what the performer does for such a mapping, without asking each of its questions; straight.test.ts compares the two.
 */
import type { Signal } from '../signal.js';
import type { CompiledMapping } from './compiled.js';
import type { Outcome } from './outcome.js';

export interface StraightStage {
  put(line: number, signal: Signal, sender: string, muted: boolean): void;
  /** Tells observers that the mapping did something. */
  report(mapping: CompiledMapping): void;
}

/** @returns what processes a signal that a straight mapping hears, at a monotonic time in ms, and says what became of it */
export function createStraight({ put, report }: StraightStage) {
  return function take(mapping: CompiledMapping, signal: Signal, now: number): Outcome {
    const { heard, shaper, tally, sends } = mapping;
    const refused = mapping.read(signal, heard);
    if (refused) return refused;
    const value = mapping.usesNumber ? heard.number : heard.value;
    const shaped = shaper.finish(shaper.take(value, heard, 0)!);
    mapping.shaped = shaped;
    tally.fired++;
    tally.lastHeard = value;
    tally.lastShaped = shaped;
    tally.lastAt = now;
    if (tally.reported) report(mapping);
    for (let i = 0; i < sends.length; i++) {
      const { fill, own, signals, line, muted } = sends[i]!;
      if (fill(own(shaped), heard) === 'nothing') continue;
      for (let at = 0; at < signals.length; at++) put(line, signals[at]!, mapping.source.id, muted);
    }
    return 'fired';
  };
}
