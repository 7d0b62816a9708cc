/** MIDI show control as a well-behaved receiver hears it: its own device, group or all. An empty cue or list is any. */
import { z } from 'zod';
import {
  ALL_DEVICES,
  COMMAND_WORDS,
  decodeShowControl,
  SHOW_COMMANDS,
  type ShowCommand,
} from '../midi/show-control.js';
import { cue, lineId, showCommand, whole } from '../show/fields.js';
import type { HearKindOf, Miss } from './kind.js';
import { another } from './miss.js';
import { fillPlain } from './read.js';

const schema = z.object({
  message: z.literal('showControl'),
  lineId,
  device: whole(
    0,
    127,
    'A device is a number from 0 to 111; 127 hears those to all devices alone.',
  ).nullable(),
  command: showCommand,
  cue,
  list: cue,
});
type Hear = z.infer<typeof schema>;

const WANTED = 'show control';

/** Whether a receiver of this device hears what is meant for `device`: itself, its group, or all (MIDI show control, 112–126 are groups). */
const isMeant = (wanted: number | null, device: number): boolean =>
  wanted === null || device === wanted || device === ALL_DEVICES;

export const showControl: HearKindOf<typeof schema> = {
  schema,
  words: 'Show control',
  wanted: WANTED,
  protocol: 'midi',
  number: null,
  value: null,
  holds: false,
  neverLetGo: { instead: null },
  start: (from) => ({
    message: 'showControl',
    lineId: from.lineId,
    device: null,
    command: 'go',
    cue: '',
    list: '',
  }),
  title: (hear) => `Show control: ${COMMAND_WORDS[hear.command]}${hear.cue && ` cue ${hear.cue}`}`,
  detail({ device, list }) {
    const who = device === null ? 'any device' : `as device ${device}`;
    return list ? `list ${list} · ${who}` : who;
  },
  controls: (hear) => [`show control ${hear.command} ${hear.cue} ${hear.list} ${hear.device ?? ''}`],
  spot: (hear) => ({ in: 'showControl', command: SHOW_COMMANDS[hear.command], cue: hear.cue }),
  reader: (hear) => (signal, into) => {
    const said = signal.kind === 'sysex' ? decodeShowControl(signal.bytes) : null;
    if (!said || said.command !== SHOW_COMMANDS[hear.command]) return 'value';
    if ((hear.cue !== '' && said.cue !== hear.cue) || (hear.list !== '' && said.list !== hear.list))
      return 'value';
    if (!isMeant(hear.device, said.device)) return 'device';
    // A message has no value, so it counts as 1. The whole part of the cue is the number.
    return fillPlain(into, 1, Math.floor(Number(said.cue.split('.')[0] ?? 0)) || 0);
  },
  misses(hear, signal) {
    const said = signal.kind === 'sysex' ? decodeShowControl(signal.bytes) : null;
    if (!said) return [another(WANTED, signal)];
    const misses: Miss<Hear>[] = [];
    const miss = (what: string, wanted: string, got: string, change: Partial<Hear>): void => {
      misses.push({ words: `wanted ${what} ${wanted}, got ${got}`, hear: { ...hear, ...change } });
    };
    const command = (Object.keys(SHOW_COMMANDS) as ShowCommand[]).find(
      (name) => SHOW_COMMANDS[name] === said.command,
    );
    if (command !== hear.command)
      misses.push({
        words: `wanted ${COMMAND_WORDS[hear.command]}, got ${command ? COMMAND_WORDS[command] : `command ${said.command}`}`,
        hear: null,
      });
    if (hear.cue !== '' && hear.cue !== said.cue)
      miss('cue', hear.cue, said.cue || 'none', { cue: said.cue });
    if (hear.list !== '' && hear.list !== said.list)
      miss('list', hear.list, said.list || 'none', { list: said.list });
    if (!isMeant(hear.device, said.device))
      miss('device', String(hear.device), String(said.device), { device: said.device });
    return misses;
  },
  column: {
    write: (hear) => hear.cue,
    read: (text) => ({ ok: true, value: { cue: text } }),
  },
};
