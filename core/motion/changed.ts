/** Whether a send would send something else than the last time, as it is encoded. */
import type { ActiveSend } from '../mapping/compiled.js';
import type { OscArgument, Signal } from '../signal.js';

/** What is compared of an argument. */
function ofArgument(argument: OscArgument): number | string | bigint {
  if (!('value' in argument)) return 0;
  const { type, value } = argument;
  if (type === 'f') return Math.fround(value);
  return type === 'b' ? value.length : value;
}

/** What is compared of a signal, as a number; NaN, which never equals itself, if it is too long for that. */
function numberOf(signal: Signal): number {
  if ('level' in signal) return signal.level;
  if ('channel' in signal) return signal.number * 16_384 + signal.value;
  return NaN;
}

/**
 * Notes what was filled into the signals of a send. @param last what was noted before, which is overwritten. @param value that was filled in, for what
 * does something to the show @returns whether it differs
 */
export function noteChange({ signals, act }: ActiveSend, value: number, last: unknown[]): boolean {
  let at = 0;
  let differs = false;
  const note = (one: unknown): void => {
    if (last[at] !== one) {
      last[at] = one;
      differs = true;
    }
    at++;
  };
  if (act) note(value);
  for (const signal of signals) {
    if (signal.kind !== 'osc') note(numberOf(signal));
    else {
      note(signal.address);
      for (const argument of signal.args) note(ofArgument(argument));
    }
  }
  return differs;
}
