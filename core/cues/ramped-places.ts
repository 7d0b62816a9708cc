/** The places that moments send on their way: what others send to them is where a ramp begins. */
import type { OscArg } from '../show/send.js';
import type { Signal } from '../signal.js';
import type { Plan } from './plan.js';

export interface RampedPlaces {
  /** @param lineOf the index of a line */
  load(plans: readonly Plan[], lineOf: (id: string | null) => number): void;
  /** Calls `found` where something else sent to such a place. Of other lines it costs next to nothing. */
  take(line: number, signal: Signal, found: (target: string, value: number) => void): void;
}

interface Place {
  /** As core/mapping/overlap writes it. */
  target: string;
  /** Of an OSC message: which of its arguments is on its way. */
  argument: number;
}

function keyOf(signal: Signal): string | null {
  if (signal.kind === 'osc') return signal.address;
  return signal.kind === 'controlChange' ? `${signal.channel} ${signal.number}` : null;
}

const shapedAt = (args: readonly OscArg[]): number =>
  args.findIndex((arg) => 'value' in arg && arg.value === 'shaped');

export function createRampedPlaces(): RampedPlaces {
  /** By line. */
  let places: (Map<string, Place> | undefined)[] = [];
  return {
    load(plans, lineOf) {
      places = [];
      for (const { expanded, sends } of plans)
        expanded.forEach((given, at) => {
          const planned = sends[at]!;
          if (given.kind !== 'send' || planned.kind !== 'send') return;
          const { target, fadeMs } = planned;
          const line = lineOf(given.send.lineId);
          if (target === null || fadeMs === 0 || line < 0) return;
          const { send } = given;
          const of = (places[line] ??= new Map());
          if (send.kind === 'osc') of.set(send.address, { target, argument: shapedAt(send.args) });
          if (send.kind === 'control') of.set(`${send.channel} ${send.number}`, { target, argument: 0 });
        });
    },
    take(line, signal, found) {
      const of = places[line];
      if (!of) return;
      const key = keyOf(signal);
      const place = key === null ? undefined : of.get(key);
      if (!place) return;
      if (signal.kind === 'controlChange') return found(place.target, signal.value);
      const value = signal.kind === 'osc' ? signal.args[place.argument] : undefined;
      if (value && 'value' in value && typeof value.value === 'number') found(place.target, value.value);
    },
  };
}
