/** The ways in which a control that was touched can be heard. The one that people mean most often comes first. */
import { COMMAND_WORDS, decodeShowControl, SHOW_COMMANDS, type ShowCommand } from '../midi/show-control.js';
import { parseKey } from '../keys/codes.js';
import type { ChannelSignal, KeySignal, OscSignal, Signal, SysexSignal } from '../signal.js';
import { hearAs, type Hear } from '../hears.js';
import type { Shape } from '../show/shape.js';

export interface LearnOption {
  /** `pressed (force 11 to 118)` */
  words: string;
  hear: Hear;
  /** The shape that it needs, if its values are coded, like those of a dial. */
  shape: Partial<Shape>;
}

type Dial = Shape['coding'];

/** The usual codings of a relative dial: values for steps up and for steps down (common practice). */
const DIALS: Record<Dial, { up: [number, number]; down: [number, number]; words: string }> = {
  two: { up: [1, 20], down: [108, 127], words: '1 up, 127 down' },
  offset: { up: [65, 84], down: [44, 63], words: '65 up, 63 down' },
  sign: { up: [1, 20], down: [65, 84], words: '1 up, 65 down' },
};
const DIAL_NAMES = Object.keys(DIALS) as Dial[];

const within = (value: number, [from, to]: [number, number]): boolean => value >= from && value <= to;

/** A dial repeats the same step; a fader rarely repeats a value. Steps in both directions are needed to recognise the coding. */
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

/** Ways for messages that are complete in one signal. */
type Midi = Exclude<Extract<Hear, { channels: unknown }>, { message: 'control14' | 'parameter' }>;

const hearOf = (lineId: string, message: Midi['message'], { channel, number }: ChannelSignal): Hear =>
  hearAs(message, {
    message: 'pressed',
    lineId,
    channels: [channel, channel],
    numbers: [number, number],
    values: 'any',
  });

export const option = (words: string, hear: Hear, shape: Partial<Shape> = {}): LearnOption => ({
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

export const hexOf = (byte: number): string => byte.toString(16).toUpperCase().padStart(2, '0');

/** Returns the bytes that were equal in all messages, with a place for the value where they differed. */
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

/** @param signals that the control sent, a press first */
export function optionsOf(lineId: string, signals: readonly Signal[]): LearnOption[] {
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
