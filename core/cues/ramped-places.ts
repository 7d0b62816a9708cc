/** The places that moments ramp. What others send to them is where a ramp starts. */
import { isNone } from '../time/span.js';
import { placeOfSignal } from '../place.js';
import { placeOf } from '../sends.js';
import { shapedArgument } from '../sends/osc.js';
import type { Signal } from '../signal.js';
import type { Plan } from './plan.js';

export interface RampedPlaces {
  /** @param lineOf returns the index of a line */
  load(plans: readonly Plan[], lineOf: (id: string | null) => number): void;
  /** Returns whether there are any such places. */
  any(): boolean;
  /** Calls `found` if the signal sets such a place. It is cheap on other lines. */
  take(line: number, signal: Signal, found: (target: string, value: number) => void): void;
}

interface Place {
  /** The place with its line (core/place). */
  target: string;
  /** The argument of an OSC message that is ramped. */
  argument: number;
}

export function createRampedPlaces(): RampedPlaces {
  /** Indexed by line. */
  let places: (Map<string, Place> | undefined)[] = [];
  return {
    load(plans, lineOf) {
      places = [];
      for (const { expanded, sends } of plans)
        expanded.forEach((given, at) => {
          const planned = sends[at]!;
          if (given.kind !== 'send' || planned.kind !== 'send') return;
          const { target, fade } = planned;
          const line = lineOf(given.send.lineId);
          if (target === null || isNone(fade) || line < 0) return;
          const argument = 'args' in given.send ? shapedArgument(given.send.args) : 0;
          (places[line] ??= new Map()).set(placeOf(given.send)!, { target, argument });
        });
    },
    any: () => places.length > 0,
    take(line, signal, found) {
      const of = places[line];
      if (!of) return;
      const at = placeOfSignal(signal);
      const place = at === null ? undefined : of.get(at);
      if (!place) return;
      if (signal.kind === 'controlChange') return found(place.target, signal.value);
      const value = signal.kind === 'osc' ? signal.args[place.argument] : undefined;
      if (value && 'value' in value && typeof value.value === 'number') found(place.target, value.value);
    },
  };
}
