/**
 * What a mapping sends, made ready: one row for each kind of `Send`. The signal is the same object every time;
 * `fill` puts the shaped value into it.
 */
import { encodeShowControl, SHOW_COMMANDS } from '../midi/show-control.js';
import type { OscArg, Send, SendKind, SendOf } from '../show/mapping.js';
import type { Protocol } from '../show/line.js';
import type { OscArgument, Signal } from '../signal.js';

export interface CompiledSend {
  signal: Signal;
  /** Puts the shaped value into `signal`. @returns false where nothing is to be sent for this value. */
  fill(shaped: number): boolean;
  /** Where what it sends sounds or is held until it is released: the signal that releases it. */
  release: Signal | null;
}

export interface SendInfo {
  /** As the interface says it. */
  words: string;
  /** What a line must carry to be sent on. */
  protocol: Protocol;
  /** The whole range of what it can carry. */
  out: [number, number];
  /** What is sent sounds, or is held, until it is released. */
  holds: boolean;
}

export const SENDS: Record<SendKind, SendInfo> = {
  osc: { words: 'OSC message', protocol: 'osc', out: [0, 1], holds: false },
  note: { words: 'Note', protocol: 'midi', out: [0, 127], holds: true },
  control: { words: 'Control change', protocol: 'midi', out: [0, 127], holds: false },
  program: { words: 'Program change', protocol: 'midi', out: [0, 127], holds: false },
  showControl: { words: 'Show control', protocol: 'midi', out: [0, 1], holds: false },
  slot: { words: 'DMX slot', protocol: 'dmx', out: [0, 255], holds: false },
  key: { words: 'Key', protocol: 'keys', out: [0, 1], holds: true },
};

const rounded = (value: number, high: number): number => Math.max(0, Math.min(high, Math.round(value)));
const toInt32 = (value: number): number =>
  Math.max(-2_147_483_648, Math.min(2_147_483_647, Math.round(value)));

function startArgument(arg: OscArg): OscArgument {
  switch (arg.type) {
    case 'h':
      return { type: 'h', value: BigInt(arg.value === 'shaped' ? 0 : Math.round(arg.value)) };
    case 'i':
      return { type: 'i', value: arg.value === 'shaped' ? 0 : toInt32(arg.value) };
    case 'f':
    case 'd':
      return { type: arg.type, value: arg.value === 'shaped' ? 0 : arg.value };
    case 's':
      return { type: 's', value: arg.value };
    default:
      return { type: arg.type };
  }
}

function compileOsc(send: SendOf<'osc'>): CompiledSend {
  const args = send.args.map(startArgument);
  const shaped = args.filter((_, i) => {
    const arg = send.args[i]!;
    return 'value' in arg && arg.type !== 's' && arg.value === 'shaped';
  });
  return {
    signal: { kind: 'osc', address: send.address, args },
    release: null,
    fill(value) {
      for (const arg of shaped) {
        if (arg.type === 'h') arg.value = BigInt(Math.round(value));
        else if (arg.type === 'i') arg.value = toInt32(value);
        else if (arg.type === 'f' || arg.type === 'd') arg.value = value;
      }
      return true;
    },
  };
}

export function compileSend(send: Send): CompiledSend {
  switch (send.kind) {
    case 'osc':
      return compileOsc(send);
    case 'note': {
      const { channel, number } = send;
      const signal = { kind: 'noteOn' as 'noteOn' | 'noteOff', channel, number, value: 0 };
      return {
        signal,
        release: { kind: 'noteOff', channel, number, value: 0 },
        fill(value) {
          signal.value = rounded(value, 127);
          signal.kind = signal.value === 0 ? 'noteOff' : 'noteOn';
          return true;
        },
      };
    }
    case 'control': {
      const signal = { kind: 'controlChange' as const, channel: send.channel, number: send.number, value: 0 };
      return {
        signal,
        release: null,
        fill(value) {
          signal.value = rounded(value, 127);
          return true;
        },
      };
    }
    case 'program': {
      const signal = { kind: 'programChange' as const, channel: send.channel, number: 0, value: 0 };
      return {
        signal,
        release: null,
        fill(value) {
          signal.number = rounded(value, 127);
          return true;
        },
      };
    }
    case 'slot': {
      const signal = { kind: 'slot' as const, slot: send.slot, level: 0 };
      return {
        signal,
        release: null,
        fill(value) {
          signal.level = rounded(value, 255);
          return true;
        },
      };
    }
    case 'key': {
      const signal = { kind: 'key' as const, code: send.code, down: false };
      return {
        signal,
        release: { kind: 'key', code: send.code, down: false },
        fill(value) {
          signal.down = value > 0;
          return true;
        },
      };
    }
    case 'showControl': {
      const { device, format, command, cue, list } = send;
      const bytes = encodeShowControl({ device, format, command: SHOW_COMMANDS[command], cue, list });
      return { signal: { kind: 'sysex', bytes }, release: null, fill: (value) => value > 0 };
    }
  }
}

/** A send of this kind, with what it can keep of another. */
export function sendAs<K extends SendKind>(kind: K, lineId: string | null, from?: Send): SendOf<K>;
export function sendAs(kind: SendKind, lineId: string | null, from?: Send): Send {
  const channel = from && 'channel' in from ? from.channel : 0;
  const number = from && 'number' in from ? from.number : 60;
  switch (kind) {
    case 'osc':
      return { kind, lineId, address: '/new/address', args: [{ type: 'f', value: 'shaped' }] };
    case 'note':
    case 'control':
      return { kind, lineId, channel, number };
    case 'program':
      return { kind, lineId, channel };
    case 'slot':
      return { kind, lineId, slot: 1 };
    case 'key':
      return { kind, lineId, code: 'KeyA' };
    case 'showControl':
      return { kind, lineId, device: 127, format: 1, command: 'go', cue: '1', list: '' };
  }
}
