/**
 * What a mapping sends, made ready: one row for each kind of `Send`. The signals are the same objects every time;
 * `fill` puts the shaped value into them.
 */
import type { KeyCode } from '../keys/codes.js';
import { encodeShowControl, SET_VALUE_AT, SHOW_COMMANDS } from '../midi/show-control.js';
import { fillSysex, readSysexTemplate } from '../midi/sysex-template.js';
import { readSentAddress, type SentAddress } from '../osc/sent-address.js';
import type { BankAct } from '../show/bank.js';
import { makeSend, type OscArg, type Send, type SendKind, type SendOf } from '../show/send.js';
import type { Colour } from '../show/shape.js';
import type { Protocol } from '../show/line.js';
import type { ChannelSignal, KeySignal, OscArgument, Signal, SlotSignal } from '../signal.js';
import { hsbToRgb, type Rgb } from './colour.js';
import type { Heard } from './heard.js';

/** What is to leave for a value: the signals, what releases them, or nothing. */
export type Filled = 'signals' | 'releases' | 'nothing';

/** What a send does to the show itself, instead of sending signals. */
export type ShowAct =
  | { do: 'bank'; bankId: string; act: BankAct }
  | { do: 'tap' }
  | { do: 'panic' }
  /** core/show/send says what each of them is. */
  | { do: 'moment'; momentId: string | null; act: SendOf<'call'>['act'] };

export interface CompiledSend {
  /** What leaves together, in this order. */
  signals: Signal[];
  /** Puts the shaped value into `signals`, and from what was heard what follows it. */
  fill(shaped: number, heard: Heard): Filled;
  /** Where what it sends sounds or is held until it is released: the signals that release it. Else empty. */
  releases: readonly Signal[];
  /** What leaves so long after the signals. */
  later: readonly { afterMs: number; signals: readonly Signal[] }[];
  act: ShowAct | null;
}

/** What a send is compiled for. */
export interface SendPlace {
  /** How far what was heard is above the lowest number of what the mapping hears: sends that follow go as far on. */
  step: number;
  colour: Colour | null;
}
const AT_START: SendPlace = { step: 0, colour: null };

export interface SendInfo {
  /** As the interface says it. */
  words: string;
  /** What a line must carry to be sent on; null for what is done to the show itself, and needs no line. */
  protocol: Protocol | null;
  /** The whole range of what it can carry. */
  out: [number, number];
  /** What is sent sounds, or is held, until it is released. */
  holds: boolean;
}

const midi = { protocol: 'midi', holds: false } as const;
const own = { protocol: null, holds: false, out: [0, 1] as [number, number] } as const;

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
  typing: { words: 'Keys, one after another', protocol: 'keys', out: [0, 1], holds: false },
  bank: { ...own, words: 'Switch a bank' },
  call: { ...own, words: 'Call, run or stop a moment' },
  tap: { ...own, words: 'Tap the tempo' },
  panic: { ...own, words: 'Panic' },
};

/** The whole range of what this send can carry. */
export function rangeOf(send: Send): [number, number] {
  if (send.kind === 'slot' && send.fine) return [0, 65_535];
  if (send.kind === 'showControl' && send.command === 'set') return [0, 16_383];
  if (send.kind !== 'sysex') return SENDS[send.kind].out;
  const read = readSysexTemplate(send.template);
  return [0, read.ok ? read.value.high : 1];
}

const rounded = (value: number, high: number): number => Math.max(0, Math.min(high, Math.round(value)));
const toInt32 = (value: number): number =>
  Math.max(-2_147_483_648, Math.min(2_147_483_647, Math.round(value)));

const fixedOf = (value: number | string): number => (typeof value === 'number' ? value : 0);

function startArgument(arg: OscArg): OscArgument {
  switch (arg.type) {
    case 'h':
      return { type: 'h', value: BigInt(Math.round(fixedOf(arg.value))) };
    case 'i':
      return { type: 'i', value: toInt32(fixedOf(arg.value)) };
    case 'f':
    case 'd':
      return { type: arg.type, value: fixedOf(arg.value) };
    case 's':
      return { type: 's', value: arg.value };
    default:
      return { type: arg.type };
  }
}

const BLACK: Rgb = { red: 0, green: 0, blue: 0 };
const rgbOf = (colour: Colour | null, shaped: number): Rgb => {
  if (!colour) return BLACK;
  const { of, hue, saturation, brightness } = colour;
  return hsbToRgb(
    of === 'hue' ? shaped : hue,
    of === 'saturation' ? shaped : saturation,
    of === 'brightness' ? shaped : brightness,
  );
};

const NONE: readonly never[] = [];

/** What makes a send that never sounds out of its signals and what fills them. */
const plain = (signals: Signal[], fill: (shaped: number, heard: Heard) => boolean): CompiledSend => ({
  signals,
  releases: NONE,
  later: NONE,
  act: null,
  fill: (shaped, heard) => (fill(shaped, heard) ? 'signals' : 'nothing'),
});

/** Puts into an argument what stands there instead of a fixed value. */
type FillArgument = (shaped: number, heard: Heard, rgb: Rgb) => void;

function fillerOf(arg: OscArg, argument: OscArgument): FillArgument | null {
  if (arg.type === 's' && argument.type === 's') {
    const text = readSentAddress(arg.value);
    if (!text.ok || text.value.fixed) return null;
    return (_, heard) => (argument.value = text.value.fill(heard));
  }
  if (!('value' in arg) || typeof arg.value !== 'string' || arg.type === 's') return null;
  const place = arg.value;
  // A part of a colour is 0 to 1, or 0 to 255 in whole numbers.
  const scale = arg.type === 'i' || arg.type === 'h' ? 255 : 1;
  return (shaped, heard, rgb) => {
    const value =
      place === 'shaped' ? shaped : place === 'number' ? heard.number : rgb[place as keyof Rgb] * scale;
    if (argument.type === 'h') argument.value = BigInt(Math.round(value));
    else if (argument.type === 'i') argument.value = toInt32(value);
    else if (argument.type === 'f' || argument.type === 'd') argument.value = value;
  };
}

function compileOsc(send: SendOf<'osc'>, { colour }: SendPlace): CompiledSend {
  const args = send.args.map(startArgument);
  const fillers = args.flatMap((argument, at) => fillerOf(send.args[at]!, argument) ?? []);
  const read = readSentAddress(send.address);
  const address: SentAddress | null = read.ok && !read.value.fixed ? read.value : null;
  const signal: Signal = { kind: 'osc', address: send.address, args };
  return plain([signal], (shaped, heard) => {
    if (address) signal.address = address.fill(heard);
    if (fillers.length > 0) {
      const rgb = rgbOf(colour, shaped);
      for (const fill of fillers) fill(shaped, heard, rgb);
    }
    return true;
  });
}

const controller = (channel: number, number: number, value = 0): ChannelSignal => ({
  kind: 'controlChange',
  channel,
  number,
  value,
});

/** One signal whose value the shaped one becomes. */
function single<T extends Signal>(signal: T, put: (signal: T, value: number) => void): CompiledSend {
  return plain([signal], (value) => {
    put(signal, value);
    return true;
  });
}

/** Fourteen bits in two controllers, the high seven first. @param before what goes before them */
function double(high: ChannelSignal, low: ChannelSignal, before: ChannelSignal[] = []): CompiledSend {
  return plain([...before, high, low], (value) => {
    const all = rounded(value, 16_383);
    high.value = all >> 7;
    low.value = all & 0x7f;
    return true;
  });
}

// MIDI 1.0, "Registered and Non-Registered Parameter Numbers": 101/100 or 99/98 choose, 6/38 set (from memory).
function compileParameter({ channel, registered, number }: SendOf<'parameter'>): CompiledSend {
  const [high, low] = registered ? [101, 100] : [99, 98];
  return double(controller(channel, 6), controller(channel, 38), [
    controller(channel, high!, number >> 7),
    controller(channel, low!, number & 0x7f),
  ]);
}

const ON_CHANNELS = 16 * 128;

/** A channel and number so many places on: past the 128th it goes on at the next channel. Null past the last. */
export function placeOn(
  channel: number,
  number: number,
  step: number,
): { channel: number; number: number } | null {
  const place = channel * 128 + number + step;
  return place >= 0 && place < ON_CHANNELS ? { channel: place >> 7, number: place & 0x7f } : null;
}

const nowhere = (): CompiledSend => plain([], () => false);

function compileNote(send: SendOf<'note'>, step: number): CompiledSend {
  const place = placeOn(send.channel, send.number, send.follows ? step : 0);
  if (!place) return nowhere();
  const signal: ChannelSignal = { kind: 'noteOn', ...place, value: 0 };
  return {
    ...plain([signal], () => true),
    releases: [{ kind: 'noteOff', ...place, value: 0 }],
    fill(value) {
      signal.value = rounded(value, 127);
      return signal.value === 0 ? 'releases' : 'signals';
    },
  };
}

function compileControl(send: SendOf<'control'>, step: number): CompiledSend {
  const place = placeOn(send.channel, send.number, send.follows ? step : 0);
  if (!place) return nowhere();
  return single(
    controller(place.channel, place.number),
    (signal, value) => (signal.value = rounded(value, 127)),
  );
}

function compileSlot(
  { slot: first, fine, follows, part }: SendOf<'slot'>,
  { step, colour }: SendPlace,
): CompiledSend {
  const slot = first + (follows ? step * (fine ? 2 : 1) : 0);
  if (slot < 1 || slot > 512) return nowhere();
  const levelOf = (value: number, high: number): number =>
    rounded(part === 'level' ? value : rgbOf(colour, value)[part] * high, high);
  const coarse: SlotSignal = { kind: 'slot', slot, level: 0 };
  if (!fine || slot === 512) return single(coarse, (signal, value) => (signal.level = levelOf(value, 255)));
  const second: SlotSignal = { kind: 'slot', slot: slot + 1, level: 0 };
  return plain([coarse, second], (value) => {
    const all = levelOf(value, 65_535);
    coarse.level = all >> 8;
    second.level = all & 0xff;
    return true;
  });
}

function compileSysex({ template }: SendOf<'sysex'>): CompiledSend {
  const read = readSysexTemplate(template);
  if (!read.ok) return nowhere();
  const bytes = new Uint8Array(read.value.parts.length);
  const { high } = read.value;
  return plain([{ kind: 'sysex', bytes }], (value) => {
    fillSysex(read.value, rounded(value, high), bytes);
    // Without a place for the value it is only sent or not.
    return high > 1 || value > 0;
  });
}

const keySignal = (code: KeyCode, down: boolean): KeySignal => ({ kind: 'key', code, down });
const downs = (codes: readonly KeyCode[]): KeySignal[] => codes.map((code) => keySignal(code, true));
const ups = (codes: readonly KeyCode[]): KeySignal[] =>
  codes.toReversed().map((code) => keySignal(code, false));

function compileKey(send: SendOf<'key'>): CompiledSend {
  const chord = [...send.with, send.code];
  return {
    ...plain(downs(chord), () => true),
    releases: ups(chord),
    fill: (value) => (value > 0 ? 'signals' : 'releases'),
  };
}

function compileTyping({ steps }: SendOf<'typing'>): CompiledSend {
  const taps = steps.map(({ codes }) => [...downs(codes), ...ups(codes)]);
  let afterMs = 0;
  const later = steps.slice(1).map((_, at) => {
    afterMs += steps[at]!.pauseMs;
    return { afterMs, signals: taps[at + 1]! };
  });
  return { ...plain(taps[0]!, (value) => value > 0), later };
}

function compileShowControl(send: SendOf<'showControl'>): CompiledSend {
  const bytes = encodeShowControl({ ...send, command: SHOW_COMMANDS[send.command] });
  return plain([{ kind: 'sysex', bytes }], (value) => {
    if (send.command !== 'set') return value > 0;
    const all = rounded(value, 16_383);
    bytes[SET_VALUE_AT] = all & 0x7f;
    bytes[SET_VALUE_AT + 1] = all >> 7;
    return true;
  });
}

/** Done to the show itself, when the value is above 0. */
const acting = (act: ShowAct | null): CompiledSend => ({ ...plain([], (value) => value > 0), act });

export function compileSend(send: Send, place: SendPlace = AT_START): CompiledSend {
  switch (send.kind) {
    case 'osc':
      return compileOsc(send, place);
    case 'note':
      return compileNote(send, place.step);
    case 'control':
      return compileControl(send, place.step);
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
      return compileSlot(send, place);
    case 'key':
      return compileKey(send);
    case 'typing':
      return compileTyping(send);
    case 'bank':
      return acting(send.bankId === null ? null : { do: 'bank', bankId: send.bankId, act: send.act });
    case 'call':
      return acting({ do: 'moment', momentId: send.momentId, act: send.act });
    case 'tap':
      return acting({ do: 'tap' });
    case 'panic':
      return acting({ do: 'panic' });
    case 'showControl':
      return compileShowControl(send);
  }
}

/** Whether this send goes where the heard number leads it. */
export const followsNumber = (send: Send): boolean => 'follows' in send && send.follows;

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
    case 'typing':
      return makeSend({ kind, lineId, delayMs, steps: [{ codes: ['KeyA'], pauseMs: 100 }] });
    case 'bank':
      return makeSend({ kind, lineId: null, delayMs, bankId: null, act: 'toggle' });
    case 'call':
      return makeSend({ kind, lineId: null, delayMs, momentId: null });
    case 'tap':
    case 'panic':
      return makeSend({ kind, lineId: null, delayMs });
    case 'showControl':
      return makeSend({ kind, lineId, delayMs, device: 127, format: 1, command: 'go', cue: '1', list: '' });
  }
}
