/**
 * What a control that is touched really sends, gathered: one pad is a press, pressure and a release, and people mean the
 * press. Each control comes with the ways in which it can be heard, the one that is meant most often first.
 */
import { controlOf, controlWords, writeControl } from '../control/control.js';
import type { MiddleC } from '../midi/words.js';
import {
  COMMAND_WORDS,
  decodeShowControl,
  describeShowControl,
  SHOW_COMMANDS,
  type ShowCommand,
} from '../midi/show-control.js';
import { parseKey } from '../keys/codes.js';
import type { ChannelSignal, KeySignal, OscSignal, Signal, SysexSignal } from '../signal.js';
import { hearAs, type Hear } from '../hears.js';
import type { Shape } from '../show/shape.js';

export interface Touch {
  lineId: string;
  signal: Signal;
}

export interface LearnOption {
  /** `pressed (force 11 to 118)` */
  words: string;
  hear: Hear;
  /** How it is shaped where its values are not what they seem, as those of a dial. */
  shape: Partial<Shape>;
}

export interface LearnControl {
  /** Tells controls apart: the line and the control. */
  key: string;
  lineId: string;
  /** `note 40 (E2) ch 10` */
  words: string;
  /** The first is what is meant most often; none for what cannot be heard by itself. */
  options: LearnOption[];
}

type Dial = Shape['coding'];

/** The usual codings of a dial that says how far it was turned: steps up, and steps down (common practice). */
const DIALS: Record<Dial, { up: [number, number]; down: [number, number]; words: string }> = {
  two: { up: [1, 20], down: [108, 127], words: '1 up, 127 down' },
  offset: { up: [65, 84], down: [44, 63], words: '65 up, 63 down' },
  sign: { up: [1, 20], down: [65, 84], words: '1 up, 65 down' },
};
const DIAL_NAMES = Object.keys(DIALS) as Dial[];

const within = (value: number, [from, to]: [number, number]): boolean => value >= from && value <= to;

/** A dial says the same step again and again; a fader hardly ever says a value twice. Both ways are needed to be sure of the coding. */
function dialOf(values: readonly number[]): Dial | null {
  const repeats = values.slice(1).filter((value, at) => value === values[at]).length;
  if (values.length < 4 || repeats < (values.length - 1) / 2) return null;
  return (
    DIAL_NAMES.find((name) => {
      const { up, down } = DIALS[name];
      const ups = values.filter((value) => within(value, up)).length;
      const downs = values.filter((value) => within(value, down)).length;
      return ups > 0 && downs > 0 && ups + downs === values.length;
    }) ?? null
  );
}

const spanWords = (values: readonly number[]): string => {
  const [low, high] = [Math.min(...values), Math.max(...values)];
  return low === high ? String(low) : `${low} to ${high}`;
};

/** Messages of which one signal says all. */
type Midi = Exclude<Extract<Hear, { channels: unknown }>, { message: 'control14' | 'parameter' }>;

const hearOf = (lineId: string, message: Midi['message'], { channel, number }: ChannelSignal): Hear =>
  hearAs(message, {
    message: 'pressed',
    lineId,
    channels: [channel, channel],
    numbers: [number, number],
    values: 'any',
  });

const option = (words: string, hear: Hear, shape: Partial<Shape> = {}): LearnOption => ({
  words,
  hear,
  shape,
});

function noteOptions(lineId: string, signals: readonly ChannelSignal[]): LearnOption[] {
  const [first] = signals;
  const of = (kind: ChannelSignal['kind']): number[] =>
    signals.filter((signal) => signal.kind === kind).map(({ value }) => value);
  const forces = of('noteOn');
  const force = forces.length > 0 ? ` (force ${spanWords(forces)})` : '';
  const options = [
    option(`pressed${force}`, hearOf(lineId, 'pressed', first!)),
    option('held: down and up', hearOf(lineId, 'held', first!)),
    option('released', hearOf(lineId, 'released', first!)),
  ];
  const pressures = of('polyPressure');
  if (pressures.length > 0)
    options.push(option(`pressure (${spanWords(pressures)})`, hearOf(lineId, 'notePressure', first!)));
  const channelPressures = of('channelPressure');
  if (channelPressures.length > 0)
    options.push(option(`pressure (${spanWords(channelPressures)})`, hearOf(lineId, 'pressure', first!)));
  return options;
}

function controllerOptions(lineId: string, signals: readonly ChannelSignal[]): LearnOption[] {
  const values = signals.map(({ value }) => value);
  const hear = hearOf(lineId, 'control', signals[0]!);
  const moves = option(`moves (${spanWords(values)})`, hear);
  const dial = dialOf(values);
  if (dial) {
    const turned = option(`turns, a dial without ends (${DIALS[dial].words})`, hear, {
      each: 'dial',
      coding: dial,
    });
    return [turned, moves];
  }
  // A button sends 0 and one other value, and nothing between.
  const others = new Set(values.filter((value) => value !== 0));
  const isButton = others.size === 1 && others.has(127) && values.length <= 12;
  if (!isButton) return [moves];
  const pressed = option('pressed: a button', { ...hear, values: [1, 127] } as Hear);
  return [
    pressed,
    option('down and up: a button', hear),
    option('toggles with each press', { ...hear, values: [1, 127] } as Hear, { each: 'toggle' }),
  ];
}

/** Controllers that only say which parameter the data entry after them sets, and its fine part (MIDI 1.0, RPN and NRPN). */
const PARAMETER_HEADS = [98, 99, 100, 101, 38];

/** Whether this controller is a part of another one's message: the fine part of a pair, or the head of a parameter. */
function isPart(signal: ChannelSignal, all: ReadonlySet<string>, lineId: string): boolean {
  const has = (number: number): boolean => all.has(`${lineId} cc-${signal.channel + 1}-${number}`);
  if (PARAMETER_HEADS.includes(signal.number) && has(6)) return true;
  return signal.number >= 32 && signal.number < 64 && has(signal.number - 32);
}

/** Whether a controller's fine part came too. */
const hasFine = ({ channel, number }: ChannelSignal, all: ReadonlySet<string>, lineId: string): boolean =>
  number < 32 && all.has(`${lineId} cc-${channel + 1}-${number + 32}`);

const DATA_ENTRY = 6;

/** The parameter that data entry sets, as the controllers before it chose it; null where none did. */
function parameterOf(
  lineId: string,
  { channel }: ChannelSignal,
  touches: readonly Touch[],
): Extract<Hear, { message: 'parameter' }> | null {
  const lastOf = (number: number): number =>
    touches.findLastIndex(
      ({ lineId: on, signal }) =>
        on === lineId &&
        signal.kind === 'controlChange' &&
        signal.channel === channel &&
        signal.number === number,
    );
  const registered = lastOf(101) > lastOf(99);
  const [high, low] = (registered ? [101, 100] : [99, 98]).map(lastOf);
  if (high === undefined || low === undefined || high < 0 || low < 0) return null;
  const valueAt = (at: number): number => (touches[at]!.signal as ChannelSignal).value;
  const parameter = (valueAt(high) << 7) | valueAt(low);
  return { message: 'parameter', lineId, channels: [channel, channel], registered, parameter, values: 'any' };
}

/** What several controllers say together, before what each says alone. */
function withAssembled(
  lineId: string,
  signal: ChannelSignal,
  all: ReadonlySet<string>,
  touches: readonly Touch[],
  alone: LearnOption[],
): LearnOption[] {
  const parameter = signal.number === DATA_ENTRY ? parameterOf(lineId, signal, touches) : null;
  const wide = { in: [0, 16_383] as [number, number] };
  if (parameter)
    return [
      option(`moves: ${parameter.registered ? 'RPN' : 'NRPN'} ${parameter.parameter}`, parameter, wide),
      ...alone,
    ];
  if (!hasFine(signal, all, lineId)) return alone;
  const { channel, number } = signal;
  const hear: Hear = {
    message: 'control14',
    lineId,
    channels: [channel, channel],
    numbers: [number, number],
    values: 'any',
  };
  return [option('moves, with its fine part: 14-bit', hear, wide), ...alone];
}

const hexOf = (byte: number): string => byte.toString(16).toUpperCase().padStart(2, '0');

/** The bytes that were the same in all messages; a place for the value where they differed. */
function templateOf(messages: readonly Uint8Array[]): string {
  const [first] = messages;
  const differ = [...first!].flatMap((byte, at) => (messages.some((one) => one[at] !== byte) ? [at] : []));
  const wide = differ.length === 2 && differ[1] === differ[0]! + 1;
  return [...first!]
    .map((byte, at) => {
      const place = differ.indexOf(at);
      if (place < 0) return hexOf(byte);
      if (wide) return place === 0 ? 'hh' : 'll';
      return place === 0 ? 'vv' : 'xx';
    })
    .join(' ');
}

function sysexOptions(lineId: string, signals: readonly SysexSignal[]): LearnOption[] {
  const said = decodeShowControl(signals[0]!.bytes);
  const command =
    said &&
    (Object.keys(SHOW_COMMANDS) as ShowCommand[]).find((name) => SHOW_COMMANDS[name] === said.command);
  const template = templateOf(signals.map(({ bytes }) => bytes));
  const high = template.includes('hh') ? 16_383 : template.includes('vv') ? 127 : 1;
  const bytes = option('these bytes', { message: 'sysex', lineId, template }, { in: [0, high] });
  if (!said || !command) return [bytes];
  const hear = { message: 'showControl', lineId, device: null, command, list: '' } as const;
  const any = option(`${COMMAND_WORDS[command]}, any cue`, { ...hear, cue: '' });
  if (said.cue === '') return [any, bytes];
  return [option(`${COMMAND_WORDS[command]} cue ${said.cue}`, { ...hear, cue: said.cue }), any, bytes];
}

const MOST_TEXTS = 16;

/** An OSC message: its first number, and each other argument by itself. */
function oscOptions(lineId: string, signals: readonly OscSignal[]): LearnOption[] {
  const hear = { message: 'osc', lineId, address: signals[0]!.address } as const;
  const count = Math.max(...signals.map(({ args }) => args.length));
  const each = Array.from({ length: Math.min(count, 8) }, (_, at): LearnOption[] => {
    const args = signals.flatMap(({ args: all }) => all[at] ?? []);
    const numbers = args.flatMap((arg) =>
      'value' in arg && typeof arg.value === 'number' ? [arg.value] : [],
    );
    const words = `argument ${at + 1}`;
    if (numbers.length > 0) {
      const shown = numbers.map((value) => Number(value.toFixed(3)));
      return [option(`${words} (${spanWords(shown)})`, { ...hear, argument: at + 1 })];
    }
    const texts = [...new Set(args.flatMap((arg) => (arg.type === 's' ? [arg.value] : [])))].slice(
      0,
      MOST_TEXTS,
    );
    if (texts.length === 0) return [];
    const rows = texts.map((text, place): [string, number] => [text, texts.length === 1 ? 1 : place]);
    return [
      option(
        `${words}: text ${texts.map((text) => `“${text}”`).join(', ')}`,
        { ...hear, argument: at + 1 },
        { texts: rows },
      ),
    ];
  }).flat();
  const first = option('comes', { ...hear, argument: 0 });
  return count <= 1 && each.every(({ shape }) => !shape.texts) ? [first] : [first, ...each];
}

function optionsOf(lineId: string, signals: readonly Signal[]): LearnOption[] {
  const [first] = signals;
  if (!first) return [];
  if ('channel' in first) {
    const channelled = signals as ChannelSignal[];
    switch (first.kind) {
      case 'noteOn':
      case 'noteOff':
      case 'polyPressure':
        return noteOptions(lineId, channelled);
      case 'controlChange':
        return controllerOptions(lineId, channelled);
      case 'pitchBend':
        return [
          option(`moves (${spanWords(channelled.map(({ value }) => value))})`, hearOf(lineId, 'bend', first)),
        ];
      case 'channelPressure':
        return [option('pressure', hearOf(lineId, 'pressure', first))];
      case 'programChange':
        return [
          option(
            `program ${spanWords(channelled.map(({ number }) => number))}`,
            hearOf(lineId, 'program', first),
          ),
        ];
    }
  }
  switch (first.kind) {
    case 'osc':
      return oscOptions(lineId, signals as OscSignal[]);
    case 'sysex':
      return sysexOptions(lineId, signals as SysexSignal[]);
    case 'slot':
      return [option('changes', { message: 'slot', lineId, slots: [first.slot, first.slot], values: 'any' })];
    case 'key':
      return keyOptions(lineId, first);
    default:
      return [];
  }
}

/** A key that only came up was down before it was touched. */
function keyOptions(lineId: string, { code: text, down }: KeySignal): LearnOption[] {
  const code = parseKey(text);
  if (!down || !code) return [];
  return [
    option('pressed', { message: 'keyPressed', lineId, code }),
    option('held: down and up', { message: 'keyHeld', lineId, code }),
  ];
}

/**
 * @param touches in the order in which they came. @returns the controls that were touched, the first one first; without what
 * nobody means: clock, releases alone, the fine part of a pair
 */
export function gather(touches: readonly Touch[], middleC: MiddleC): LearnControl[] {
  const groups = new Map<string, { lineId: string; words: string; signals: Signal[] }>();
  for (const { lineId, signal } of touches) {
    const control = keyControl(signal, touches, lineId);
    if (!control) continue;
    const key = `${lineId} ${control.key}`;
    const group = groups.get(key) ?? { lineId, words: control.words(middleC), signals: [] };
    group.signals.push(signal);
    groups.set(key, group);
  }
  const keys = new Set(groups.keys());
  return [...groups].flatMap(([key, { lineId, words, signals }]) => {
    const [first] = signals;
    if (first?.kind === 'controlChange' && isPart(first as ChannelSignal, keys, lineId)) return [];
    // A release or pressure of something that was down before it was touched is no touch.
    if (
      signals.every(({ kind }) => kind === 'noteOff' || kind === 'polyPressure' || kind === 'channelPressure')
    )
      return [];
    const alone = optionsOf(lineId, startingWithPress(signals));
    const options =
      first?.kind === 'controlChange'
        ? withAssembled(lineId, first as ChannelSignal, keys, touches, alone)
        : alone;
    return options.length > 0 ? [{ key, lineId, words, options }] : [];
  });
}

const startingWithPress = (signals: readonly Signal[]): Signal[] =>
  signals.toSorted((a, b) => Number(b.kind === 'noteOn') - Number(a.kind === 'noteOn'));

interface Keyed {
  key: string;
  words: (middleC: MiddleC) => string;
}

/** Which control a signal is of. Pressure on a channel belongs to the pad that was pressed on it. */
function keyControl(signal: Signal, touches: readonly Touch[], lineId: string): Keyed | null {
  if (signal.kind === 'channelPressure') {
    const pad = touches.find(
      (touch) =>
        touch.lineId === lineId && touch.signal.kind === 'noteOn' && touch.signal.channel === signal.channel,
    );
    if (pad) return keyControl(pad.signal, touches, lineId);
  }
  if (signal.kind === 'osc') return { key: `osc-${signal.address}`, words: () => signal.address };
  if (signal.kind === 'sysex') return sysexControl(signal);
  const found = controlOf(signal);
  if (!found) return null;
  const control =
    found.control.kind === 'touch' ? { ...found.control, kind: 'note' as const } : found.control;
  return { key: writeControl(control), words: (middleC) => controlWords(control, middleC) };
}

/** So many bytes at the front, maker and model, tell what is one control from others of the same length. */
const SYSEX_HEAD = 4;

function sysexControl({ bytes }: SysexSignal): Keyed {
  const said = decodeShowControl(bytes);
  const head = [...bytes.subarray(0, Math.min(SYSEX_HEAD, bytes.length - 1))].map(hexOf).join(' ');
  return said
    ? { key: `show-control-${said.command}-${said.cue}`, words: () => describeShowControl(said) }
    : { key: `sysex-${bytes.length}-${head}`, words: () => `system-exclusive ${head} …` };
}
