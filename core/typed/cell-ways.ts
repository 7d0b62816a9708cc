/** The forms in which things can be written in a cell of the running order, and what each makes (core/typed/moment-cell). */
import { parseKey } from '../keys/codes.js';
import type { MotionSendAct } from '../motion/acts.js';
import { makeMomentSend, type MomentSend } from '../show/moment.js';
import { makeSend, type Send } from '../sends.js';
import type { Show } from '../show.js';
import { BadCell, must } from './bad-cell.js';
import { TIME, type Ending } from './cell-ending.js';
import type { BareLevel } from './levels.js';
import { readNote } from './range.js';
import { readSpan } from './span.js';
import type { TimeUnit } from './time.js';

/** The parts of a show that cells can name. */
export type CellShow = Pick<
  Show,
  'settings' | 'moments' | 'groups' | 'looks' | 'midiFiles' | 'banks' | 'motions' | 'lines'
>;

/** How numbers in a table are meant. */
export interface TableStyle {
  /** The unit of a time without one. */
  time: TimeUnit;
  /** What a level without a unit is. */
  level: BareLevel;
  /** The number of the first channel in JSON. */
  firstChannel: 0 | 1;
}
/** As people type today. */
export const STYLE_NOW: TableStyle = { time: 's', level: 'percent', firstChannel: 1 };
/** As tables of version 1 were written. */
export const STYLE_ONCE: TableStyle = { time: 'ms', level: 'slot', firstChannel: 0 };

/** What a form is read with. */
export interface Context {
  style: TableStyle;
  show: CellShow;
  lineId: string | null;
  ending: Ending;
}

/** One form: what it looks like, and what it makes. */
export interface Way {
  looks: RegExp;
  make(match: RegExpExecArray, context: Context): MomentSend;
}

const sending = ({ ending }: Context, send: Send, value: number): MomentSend =>
  makeMomentSend({
    kind: 'send',
    send: { ...send, delayMs: ending.delayMs, delayBeats: ending.delayBeats },
    value,
    fadeMs: ending.fadeMs,
    fadeBeats: ending.fadeBeats,
    curve: ending.curve,
  });

const channelOf = (text: string): number => {
  const channel = Number(text);
  if (channel < 1 || channel > 16) throw new BadCell('A channel is a number from 1 to 16.');
  return channel - 1;
};

function named<T extends { id: string; name: string }>(rows: readonly T[], name: string, what: string): T {
  const found = rows.find((row) => row.name.toLowerCase() === name.trim().toLowerCase());
  if (!found) throw new BadCell(`There is no ${what} “${name.trim()}”. Make it first.`);
  return found;
}

function momentNamed({ moments }: CellShow, cue: string): string {
  const found = moments.find((moment) => moment.cue === cue);
  if (!found) throw new BadCell(`There is no cue ${cue} in the show. Bring that one in first.`);
  return found.id;
}

const NUMBER = String.raw`([-−]?\d+(?:\.\d+)?)`;
const CH = String.raw`ch\s*(\d+)`;
const valueOf = (text: string): number => Number(text.replace('−', '-'));

/** Does something to a motion. @param act one of MOTION_ACTS, in any letters */
function moving(context: Context, name: string, act: string, value: number): MomentSend {
  const { id } = named(context.show.motions, name, 'motion');
  if (act.toLowerCase() === 'press')
    throw new BadCell(
      `A moment never lets go. Write “motion ${name.trim()} start”, and “stop” in a later one.`,
    );
  const send = makeSend({
    kind: 'motion',
    lineId: null,
    motionId: id,
    act: act.toLowerCase() as MotionSendAct,
  });
  return sending(context, send, value);
}

/** The first form that matches is used. */
export const WAYS: readonly Way[] = [
  {
    looks: /^look\s+(.+)$/i,
    make: ([, name], { show, lineId, ending }) =>
      makeMomentSend({ kind: 'look', lineId, ...ending, lookId: named(show.looks, name!, 'look').id }),
  },
  {
    looks: new RegExp(
      String.raw`^file\s+(.+?)(?:\s+(?:(\d+) times|(until stopped)))?(?:\s+tracks?\s+([\d ,]+))?(?:\s+at\s+${NUMBER} bpm)?$`,
      'i',
    ),
    make: ([, name, times, endless, tracks, bpm], { show, lineId, ending }) =>
      makeMomentSend({
        kind: 'file',
        lineId,
        delayMs: ending.delayMs,
        delayBeats: ending.delayBeats,
        fileId: named(show.midiFiles, name!, 'MIDI file').id,
        times: endless ? 0 : Number(times ?? 1),
        tracks: tracks ? tracks.split(',').map((one) => Number(one) - 1) : 'all',
        bpm: bpm === undefined ? null : Number(bpm),
      }),
  },
  {
    looks: new RegExp(
      String.raw`^note\s+(\S+?(?:\s*\(\S+\))?)\s+${CH}\s+(?:at\s+(\d+)|(off))(?:\s+for\s+${TIME})?$`,
      'i',
    ),
    make(match, context) {
      const [, note, channel, force, off, length] = match;
      const span = length === undefined ? null : must(readSpan(length, context.style.time, 600_000));
      const send = makeSend({
        kind: 'note',
        lineId: context.lineId,
        channel: channelOf(channel!),
        number: must(readNote(note!, context.show.settings.middleC)),
        lengthMs: span && span.ms,
        lengthBeats: span && span.beats,
      });
      return sending(context, send, off ? 0 : Number(force));
    },
  },
  {
    looks: new RegExp(String.raw`^cc\s*(\d+)\s+${CH}\s*=\s*${NUMBER}$`, 'i'),
    make: ([, number, channel, value], context) =>
      sending(
        context,
        makeSend({
          kind: 'control',
          lineId: context.lineId,
          channel: channelOf(channel!),
          number: Number(number),
        }),
        valueOf(value!),
      ),
  },
  {
    looks: new RegExp(String.raw`^(program|bend|pressure)\s+(\d+)\s+${CH}$`, 'i'),
    make: ([, kind, value, channel], context) =>
      sending(
        context,
        makeSend({
          kind: kind!.toLowerCase() as 'program' | 'bend' | 'pressure',
          lineId: context.lineId,
          channel: channelOf(channel!),
        }),
        Number(value),
      ),
  },
  {
    looks: new RegExp(String.raw`^(/\S+)(?:\s+${NUMBER})?$`),
    make: ([, address, value], context) =>
      sending(
        context,
        makeSend({
          kind: 'osc',
          lineId: context.lineId,
          address: address!,
          args: value === undefined ? [] : [{ type: 'f', value: 'shaped' }],
        }),
        value === undefined ? 1 : valueOf(value),
      ),
  },
  {
    looks: /^key\s+(.+)$/i,
    make([, text], context) {
      const code = parseKey(text!);
      if (!code) throw new BadCell(`“${text!}” is not a key. Write its code, like KeyG or F4.`);
      return sending(context, makeSend({ kind: 'key', lineId: context.lineId, code }), 1);
    },
  },
  {
    looks:
      /^show control\s+(go|stop|resume|all off)(?:\s+cue\s+([\d.]+))?(?:\s+list\s+([\d.]+))?(?:\s+format\s+(\d+))?(?:\s+device\s+(\d+|all))?$/i,
    make: ([, command, cue = '', list = '', format = '1', device = 'all'], context) =>
      sending(
        context,
        makeSend({
          kind: 'showControl',
          lineId: context.lineId,
          command: command!.toLowerCase() === 'all off' ? 'allOff' : (command!.toLowerCase() as 'go'),
          cue,
          list,
          format: Number(format),
          device: device.toLowerCase() === 'all' ? 127 : Number(device),
        }),
        1,
      ),
  },
  {
    looks: /^bank\s+(.+)\s+(on|off|toggle|only)$/i,
    make: ([, name, act], context) =>
      sending(
        context,
        makeSend({
          kind: 'bank',
          lineId: null,
          bankId: named(context.show.banks, name!, 'bank').id,
          act: act!.toLowerCase() as 'on',
        }),
        1,
      ),
  },
  {
    looks: /^motion\s+(.+)\s+(start|stop|toggle|next|back)$/i,
    make: ([, name, act], context) => moving(context, name!, act!, 1),
  },
  {
    looks: new RegExp(String.raw`^motion\s+(.+)\s+(amount|offset|speed|form|give)\s*=\s*${NUMBER}\s*%$`, 'i'),
    make: ([, name, act, percent], context) => moving(context, name!, act!, valueOf(percent!) / 100),
  },
  {
    looks: /^(call|run|stop)\s+(?:cue\s+)?([\d.]+)$/i,
    make: ([, act, cue], context) =>
      sending(
        context,
        makeSend({
          kind: 'call',
          lineId: null,
          momentId: momentNamed(context.show, cue!),
          act: act!.toLowerCase() as 'call',
        }),
        1,
      ),
  },
  {
    looks: /^(stop all|panic|tap)$/i,
    make: ([, word], context) => {
      const kind = word!.toLowerCase();
      if (kind === 'stop all')
        return sending(context, makeSend({ kind: 'call', lineId: null, momentId: null, act: 'stop' }), 1);
      return sending(context, makeSend({ kind: kind as 'panic', lineId: null }), 1);
    },
  },
];
