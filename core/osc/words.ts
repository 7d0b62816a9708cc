/** OSC messages in words. */
import type { OscArgument, OscSignal } from '../signal.js';

export function describeArgument(arg: OscArgument): string {
  switch (arg.type) {
    case 'i':
    case 'h':
      return String(arg.value);
    case 'f':
    case 'd':
      return String(Number(arg.value.toFixed(4)));
    case 's':
      return `“${arg.value}”`;
    case 'b':
      return `blob of ${arg.value.length} bytes`;
    case 'T':
      return 'true';
    case 'F':
      return 'false';
    case 'N':
      return 'nil';
    case 'I':
      return 'impulse';
  }
}

export function describeOsc(signal: OscSignal): string {
  return [signal.address, ...signal.args.map(describeArgument)].join(' ');
}
