/** Schemas of the fields of rows. Their messages say what may be written. */
import { z } from 'zod';
import { BEATS_TO_BAR } from '../time/tempo.js';
import { beatSpanSchema } from '../time/span.js';
import { line, NAME_LENGTH } from './text.js';
import { KEY_CODES } from '../keys/codes.js';
import { SHOW_COMMAND_NAMES } from '../midi/show-control.js';
import { readSysexTemplate } from '../midi/sysex-template.js';
import { readSentAddress } from '../osc/sent-address.js';

export const id = line(64, 'An id has at most 64 characters.').min(1);

/** Two whole numbers within the limits, the lower one first. */
export const span = (low: number, high: number, message: string) =>
  z
    .tuple([
      z.int(message).min(low, message).max(high, message),
      z.int(message).min(low, message).max(high, message),
    ])
    .refine(([from, to]) => from <= to, { message: 'The range runs backwards: write the lower end first.' });

export const name = z
  .string({ message: 'Give it a name.' })
  .trim()
  .min(1, 'Give it a name.')
  .pipe(line(NAME_LENGTH, 'A name has at most 60 characters.'));
/** A name that may be empty. */
export const nameOrNone = line(60, 'A name has at most 60 characters.');

/** A whole number within the limits. */
export const whole = (low: number, high: number, message: string) =>
  z.int(message).min(low, message).max(high, message);

/** A time in ms, of no more than `high`. */
export const duration = (high: number, message: string) =>
  z.number(message).min(0, message).max(high, message);

/** A time in beats that counts instead of one in ms; null if that one does. */
export const beats = beatSpanSchema.nullable().default(null);

export const port = whole(1, 65_535, 'A port is a number from 1 to 65535.');

const HOST = 'Write an address like 192.168.1.20, or a host name, without a port.';
export const host = z
  .string({ message: HOST })
  .trim()
  .regex(
    /^(?:[A-Za-z0-9](?:[A-Za-z0-9-]{0,62})(?:\.[A-Za-z0-9-]{1,63})*\.?|[0-9A-Fa-f:]*:[0-9A-Fa-f:.]+)$/,
    HOST,
  )
  .max(253, HOST)
  .refine((text) => !/^[\d.]+$/.test(text) || /^(?:(?:25[0-5]|2[0-4]\d|1?\d?\d)(?:\.|$)){4}$/.test(text), {
    message: 'An address in numbers has four parts from 0 to 255, like 127.0.0.1.',
  });

const CHANNEL = 'A channel is a number from 1 to 16, a range like 1-8, several like 1, 3, or any.';
export const channel = whole(0, 15, 'A channel is a number from 1 to 16.');
/** Any, a range with both ends, or several. Counted from 0, as they are sent. */
export const channels = z.union(
  [
    z.literal('any'),
    span(0, 15, CHANNEL),
    z.object({ of: z.array(channel).min(2, CHANNEL).max(16, CHANNEL) }),
  ],
  { message: CHANNEL },
);
const NUMBER = 'A number from 0 to 127, a range like 36-51, or any.';
export const numbers = z.union([z.literal('any'), span(0, 127, NUMBER)], { message: NUMBER });
export const number = whole(0, 127, 'A number from 0 to 127.');

const SLOT = 'A slot is a number from 1 to 512.';
export const slot = whole(1, 512, SLOT);
const SLOTS = 'A slot is a number from 1 to 512, a range like 1-12, or any.';
export const slots = z.union([z.literal('any'), span(1, 512, SLOTS)], { message: SLOTS });

const ADDRESS = 'An OSC address begins with /, like /fog/density, and has no spaces.';
/** An OSC address or pattern (OSC 1.0, "OSC Address Spaces"): printable ASCII without space, # and comma outside braces. */
export const oscAddress = z
  .string({ message: ADDRESS })
  .trim()
  .regex(/^\/[!-~]*$/, ADDRESS)
  .max(200, 'An OSC address has at most 200 characters here.');
/** An address that is sent: without the pattern's characters, but with places in braces, which core/mapping/address fills. */
export const sentAddress = oscAddress
  .regex(/^[^?*[\]#,]*$/, {
    message: 'An address that is sent can’t have ? * [ ] # or a comma in it.',
  })
  .refine((text) => readSentAddress(text).ok, {
    error: (issue) => {
      const read = readSentAddress(String(issue.input));
      return read.ok ? ADDRESS : read.reason;
    },
  });

export const finite = z.number('Write a number.').min(-1e9).max(1e9);
export const scale = z.tuple([finite, finite]);

export const lineId = id.nullable();
export const keyCode = z.enum(KEY_CODES, 'Press the key, or write its code, like KeyG, Space or ArrowRight.');

const CUE = 'A cue is written in digits and points, like 4 or 12.1; or leave it empty.';
export const cue = z
  .string()
  .trim()
  .max(32, CUE)
  .regex(/^(?:\d+(?:\.\d+)*)?$/, CUE);
export const showCommand = z.enum(SHOW_COMMAND_NAMES);

/** System-exclusive as it is typed; core/midi/sysex-template reads it. @param heard it may have places for any byte */
export function sysexTemplate(heard: boolean) {
  return z
    .string()
    .trim()
    .max(600, 'At most 600 characters.')
    .refine((text) => readSysexTemplate(text, heard).ok, {
      error: (issue) => {
        const read = readSysexTemplate(String(issue.input), heard);
        return read.ok ? '' : read.reason;
      },
    });
}

const TIMECODE = 'Write a timecode like 01:02:03:04: hours, minutes, seconds, frames.';
/** A timecode as text. Whether its frame exists depends on the frame rate of the show. */
export const timecodeText = z
  .string(TIMECODE)
  .regex(/^(?:[01]\d|2[0-3]):[0-5]\d:[0-5]\d[:;][0-5]\d$/, TIMECODE);
export const TIMECODE_TEXT = '00:00:00:00';

const TEMPO = 'A tempo is 20 to 400 beats a minute.';
const BAR = 'A bar has 1 to 32 beats.';
export const beatsToBar = z.int(BAR).min(1, BAR).max(32, BAR).default(BEATS_TO_BAR);
export const tempo = z.number(TEMPO).min(20, TEMPO).max(400, TEMPO);

/** The version of files, which says how they are read. Since version 2, channels count from 1 (core/typed/file-channels). */
export const FILE_VERSION = 2;
export const fileVersion = z.literal(
  FILE_VERSION,
  'This file is of a newer version than this program. Update the program, then open it again.',
);

/** The curves that bend a way from one value to another; core/mapping/shape has what they do. */
export const BENDS_NAMES = ['straight', 'slow-start', 'fast-start', 'slow-ends'] as const;
