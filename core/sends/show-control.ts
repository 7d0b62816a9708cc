/** A message of MIDI show control: sent when the shaped value is above 0. Of `set`, the shaped value is what a control is set to, 0–16,383. */
import { z } from 'zod';
import {
  ALL_DEVICES,
  COMMAND_WORDS,
  encodeShowControl,
  namesCue,
  SET_VALUE_AT,
  SHOW_COMMANDS,
  SHOW_FORMATS,
} from '../midi/show-control.js';
import { cue, duration, showCommand, whole } from '../show/fields.js';
import { shownValue } from './channel-words.js';
import { plain, rounded } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const secondsOf = (ms: number): string => `${Number((ms / 1000).toFixed(2))} s`;

const schema = z.object({
  kind: z.literal('showControl'),
  ...SENT,
  device: whole(0, 127, 'A device is a number from 0 to 111; 127 is all devices.'),
  format: whole(1, 127, 'A format is a number from 1 to 127.'),
  command: showCommand,
  cue,
  list: cue,
  /** Of a timed go: the time that the cue takes. */
  timeMs: duration(86_399_000, 'A time is 0 s to 24 hours.').default(0),
  /** Of set: the control that is set. */
  control: whole(0, 1023, 'A control is a number from 0 to 1023.').default(0),
});

export const showControl: SendKindOf<typeof schema> = {
  schema,
  words: 'Show control',
  protocol: 'midi',
  out: [0, 1],
  outOf: ({ command }) => [0, command === 'set' ? 16_383 : 1],
  holds: false,
  start: ({ lineId, delayMs, delayBeats }) => ({
    kind: 'showControl',
    lineId,
    delayMs,
    delayBeats,
    device: ALL_DEVICES,
    format: 1,
    command: 'go',
    cue: '1',
    list: '',
  }),
  compile(send) {
    const bytes = encodeShowControl({ ...send, command: SHOW_COMMANDS[send.command] });
    return plain([{ kind: 'sysex', bytes }], (value) => {
      if (send.command !== 'set') return value > 0;
      const all = rounded(value, 16_383);
      bytes[SET_VALUE_AT] = all & 0x7f;
      bytes[SET_VALUE_AT + 1] = all >> 7;
      return true;
    });
  },
  title: (send) => `${COMMAND_WORDS[send.command]}${send.cue && ` cue ${send.cue}`}`,
  detail({ format, device, list, command, timeMs, control }) {
    const who = device === ALL_DEVICES ? 'all devices' : `device ${device}`;
    const time = command === 'timedGo' ? `, in ${timeMs / 1000} s` : '';
    const which = command === 'set' ? `, control ${control}` : '';
    return `${SHOW_FORMATS[format] ?? `format ${format}`}${list && `, list ${list}`}${time}${which}, ${who}`;
  },
  said(send, value) {
    const { command } = send;
    if (command === 'set') return `set control ${send.control} to ${shownValue(value)}`;
    const named = namesCue(command) && send.cue ? ` ${send.cue}` : '';
    return `${COMMAND_WORDS[command]}${named}${command === 'timedGo' ? ` in ${secondsOf(send.timeMs)}` : ''}`;
  },
  typed(send) {
    const named = send.cue === '' ? '' : ` cue ${send.cue}`;
    const list = send.list === '' ? '' : ` list ${send.list}`;
    const command = send.command === 'allOff' ? 'all off' : send.command;
    const device = send.device === ALL_DEVICES ? 'all' : send.device;
    return `show control ${command}${named}${list} format ${send.format} device ${device}`;
  },
  column: {
    write: (send) => send.cue,
    read: (text) => ({ ok: true, value: { cue: text } }),
  },
};
