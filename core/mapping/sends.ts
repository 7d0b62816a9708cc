/**
 * What a mapping sends, made ready: one row for each kind of `Send`. The signals are the same objects every time;
 * `fill` puts the shaped value into them.
 */
import { encodeShowControl, SHOW_COMMANDS } from '../midi/show-control.js';
import { fillSysex, readSysexTemplate } from '../midi/sysex-template.js';
import { makeSend, type OscArg, type Send, type SendKind, type SendOf } from '../show/send.js';
import type { Protocol } from '../show/line.js';
import type { ChannelSignal, OscArgument, Signal, SlotSignal } from '../signal.js';

export interface CompiledSend {
  /** What leaves together, in this order. */
  signals: Signal[];
  /** Puts the shaped value into `signals`. @returns false where nothing is to be sent for this value. */
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

const midi = { protocol: 'midi', holds: false } as const;

export const SENDS: Record<SendKind, SendInfo> = {
  osc: { words: 'OSC message', protocol: 'osc', out: [0, 1], holds: false },
  note: { ...midi, words: 'Note', out: [0, 127], holds: true },
  control: { ...midi, words: 'Control change', out: [0, 127] },
  control14: { ...midi, words: 'Control change, 14-bit', out: [0, 16_383] },
  parameter: { ...midi, words: 'Parameter (RPN, NRPN)', out: [0, 16_383] },
  program: { ...midi, words: 'Program change', out: [0, 127] },
  bend: { ...midi, words: 'Pitch bend', out: [0, 16_383] },
  showControl: { ...midi, words: 'Show control', out: [0, 1] },
  sysex: { ...midi, words: 'System-exclusive', out: [0, 127] },
  slot: { words: 'DMX slot', protocol: 'dmx', out: [0, 255], holds: false },
  key: { words: 'Key', protocol: 'keys', out: [0, 1], holds: true },
};

/** The whole range of what this send can carry. */
export function rangeOf(send: Send): [number, number] {
  if (send.kind === 'slot' && send.fine) return [0, 65_535];
  if (send.kind !== 'sysex') return SENDS[send.kind].out;
  const read = readSysexTemplate(send.template);
  return [0, read.ok ? read.value.high : 1];
}

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
    signals: [{ kind: 'osc', address: send.address, args }],
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

const controller = (channel: number, number: number, value = 0): ChannelSignal => ({
  kind: 'controlChange',
  channel,
  number,
  value,
});

/** One signal whose value the shaped one becomes. */
function single<T extends Signal>(signal: T, put: (signal: T, value: number) => void): CompiledSend {
  return {
    signals: [signal],
    release: null,
    fill(value) {
      put(signal, value);
      return true;
    },
  };
}

/** Fourteen bits in two controllers, the high seven first. @param before what goes before them */
function double(high: ChannelSignal, low: ChannelSignal, before: ChannelSignal[] = []): CompiledSend {
  return {
    signals: [...before, high, low],
    release: null,
    fill(value) {
      const all = rounded(value, 16_383);
      high.value = all >> 7;
      low.value = all & 0x7f;
      return true;
    },
  };
}

// MIDI 1.0, "Registered and Non-Registered Parameter Numbers": 101/100 or 99/98 choose, 6/38 set (from memory).
function compileParameter({ channel, registered, number }: SendOf<'parameter'>): CompiledSend {
  const [high, low] = registered ? [101, 100] : [99, 98];
  return double(controller(channel, 6), controller(channel, 38), [
    controller(channel, high!, number >> 7),
    controller(channel, low!, number & 0x7f),
  ]);
}

function compileSlot({ slot, fine }: SendOf<'slot'>): CompiledSend {
  const coarse: SlotSignal = { kind: 'slot', slot, level: 0 };
  if (!fine || slot === 512) return single(coarse, (signal, value) => (signal.level = rounded(value, 255)));
  const second: SlotSignal = { kind: 'slot', slot: slot + 1, level: 0 };
  return {
    signals: [coarse, second],
    release: null,
    fill(value) {
      const all = rounded(value, 65_535);
      coarse.level = all >> 8;
      second.level = all & 0xff;
      return true;
    },
  };
}

function compileSysex({ template }: SendOf<'sysex'>): CompiledSend {
  const read = readSysexTemplate(template);
  if (!read.ok) return { signals: [], release: null, fill: () => false };
  const bytes = new Uint8Array(read.value.parts.length);
  const { high } = read.value;
  return {
    signals: [{ kind: 'sysex', bytes }],
    release: null,
    fill(value) {
      fillSysex(read.value, rounded(value, high), bytes);
      // Without a place for the value it is only sent or not.
      return high > 1 || value > 0;
    },
  };
}

export function compileSend(send: Send): CompiledSend {
  switch (send.kind) {
    case 'osc':
      return compileOsc(send);
    case 'note': {
      const { channel, number } = send;
      const signal: ChannelSignal = { kind: 'noteOn', channel, number, value: 0 };
      return {
        signals: [signal],
        release: { kind: 'noteOff', channel, number, value: 0 },
        fill(value) {
          signal.value = rounded(value, 127);
          signal.kind = signal.value === 0 ? 'noteOff' : 'noteOn';
          return true;
        },
      };
    }
    case 'control':
      return single(
        controller(send.channel, send.number),
        (signal, value) => (signal.value = rounded(value, 127)),
      );
    case 'control14':
      return double(controller(send.channel, send.number), controller(send.channel, send.number + 32));
    case 'parameter':
      return compileParameter(send);
    case 'program':
      return single<ChannelSignal>(
        { kind: 'programChange', channel: send.channel, number: 0, value: 0 },
        (signal, value) => (signal.number = rounded(value, 127)),
      );
    case 'bend':
      return single<ChannelSignal>(
        { kind: 'pitchBend', channel: send.channel, number: 0, value: 0 },
        (signal, value) => (signal.value = rounded(value, 16_383)),
      );
    case 'sysex':
      return compileSysex(send);
    case 'slot':
      return compileSlot(send);
    case 'key': {
      const signal = { kind: 'key' as const, code: send.code, down: false };
      return {
        signals: [signal],
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
      return { signals: [{ kind: 'sysex', bytes }], release: null, fill: (value) => value > 0 };
    }
  }
}

/** A send of this kind, with what it can keep of another. */
export function sendAs<K extends SendKind>(kind: K, lineId: string | null, from?: Send): SendOf<K>;
export function sendAs(kind: SendKind, lineId: string | null, from?: Send): Send {
  const channel = from && 'channel' in from ? from.channel : 0;
  const number = from && 'number' in from ? Math.min(127, from.number) : 60;
  const delayMs = from?.delayMs ?? 0;
  switch (kind) {
    case 'osc':
      return makeSend({
        kind,
        lineId,
        delayMs,
        address: '/new/address',
        args: [{ type: 'f', value: 'shaped' }],
      });
    case 'note':
    case 'control':
      return makeSend({ kind, lineId, delayMs, channel, number });
    case 'control14':
      return makeSend({ kind, lineId, delayMs, channel, number: Math.min(31, number) });
    case 'parameter':
      return makeSend({ kind, lineId, delayMs, channel, registered: false, number });
    case 'program':
    case 'bend':
      return makeSend({ kind, lineId, delayMs, channel });
    case 'sysex':
      return makeSend({ kind, lineId, delayMs, template: 'F0 7D vv F7' });
    case 'slot':
      return makeSend({ kind, lineId, delayMs, slot: 1 });
    case 'key':
      return makeSend({ kind, lineId, delayMs, code: 'KeyA' });
    case 'showControl':
      return makeSend({ kind, lineId, delayMs, device: 127, format: 1, command: 'go', cue: '1', list: '' });
  }
}
