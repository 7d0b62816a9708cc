/**
 * Gathers the controls that were touched from what they sent. One pad sends a press, pressure and a release, and people mean the press. Each
 * control comes with the ways in which it can be heard, the most likely one first.
 */
import { controlOf, controlWords, writeControl } from '../control/control.js';
import type { MiddleC } from '../midi/words.js';
import { decodeShowControl, describeShowControl } from '../midi/show-control.js';
import type { ChannelSignal, Signal, SysexSignal } from '../signal.js';
import type { Hear } from '../hears.js';
import { hexOf, option, optionsOf, type LearnOption } from './options.js';

export interface Touch {
  lineId: string;
  signal: Signal;
}

export interface LearnControl {
  /** Identifies the control and its line. */
  key: string;
  lineId: string;
  /** `note 40 (E2) ch 10` */
  words: string;
  /** The most likely one first; none if it cannot be heard by itself. */
  options: LearnOption[];
}

/** Controllers that only say which parameter the data entry after them sets, and its fine part (MIDI 1.0, RPN and NRPN). */
const PARAMETER_HEADS = [98, 99, 100, 101, 38];

/** Returns whether a controller is part of another controller's message: the fine part of a pair, or the choice of a parameter. */
function isPart(signal: ChannelSignal, all: ReadonlySet<string>, lineId: string): boolean {
  const has = (number: number): boolean => all.has(`${lineId} cc-${signal.channel + 1}-${number}`);
  if (PARAMETER_HEADS.includes(signal.number) && has(6)) return true;
  return signal.number >= 32 && signal.number < 64 && has(signal.number - 32);
}

/** Returns whether the fine part of a controller arrived too. */
const hasFine = ({ channel, number }: ChannelSignal, all: ReadonlySet<string>, lineId: string): boolean =>
  number < 32 && all.has(`${lineId} cc-${channel + 1}-${number + 32}`);

const DATA_ENTRY = 6;

/** Returns the parameter that data entry sets, as chosen by the controllers before it; null if none was chosen. */
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

/** Finds values that several controllers form together, before those of each controller alone. */
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
    // A release or pressure does not count if its control was already down before.
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

/** Returns the control that sent a signal. Channel pressure belongs to the pad that was pressed on the channel. */
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

/** The first bytes, with maker and model, identify a control among messages of the same length. */
const SYSEX_HEAD = 4;

function sysexControl({ bytes }: SysexSignal): Keyed {
  const said = decodeShowControl(bytes);
  const head = [...bytes.subarray(0, Math.min(SYSEX_HEAD, bytes.length - 1))].map(hexOf).join(' ');
  return said
    ? { key: `show-control-${said.command}-${said.cue}`, words: () => describeShowControl(said) }
    : { key: `sysex-${bytes.length}-${head}`, words: () => `system-exclusive ${head} …` };
}
