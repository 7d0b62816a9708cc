/** Small schemas that rows of the show are made of. Their messages say what may be written. */
import { z } from 'zod';
import { KEY_CODES } from '../keys/codes.js';

export const id = z.string().min(1).max(64);

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
  .max(60, 'A name has at most 60 characters.');

/** A whole number within the limits. */
export const whole = (low: number, high: number, message: string) =>
  z.int(message).min(low, message).max(high, message);

/** A time in ms, of no more than `high`. */
export const duration = (high: number, message: string) =>
  z.number(message).min(0, message).max(high, message);

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

export const channels = z.union(
  [z.literal('any'), span(0, 15, 'A channel is a number from 1 to 16, a range like 1-8, or any.')],
  { message: 'A channel is a number from 1 to 16, a range like 1-8, or any.' },
);
const NUMBER = 'A number from 0 to 127, a range like 36-51, or any.';
export const numbers = z.union([z.literal('any'), span(0, 127, NUMBER)], { message: NUMBER });
export const channel = whole(0, 15, 'A channel is a number from 1 to 16.');
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
export const sentAddress = oscAddress.regex(/^[^?*[\]{}#,]*$/, {
  message: 'An address that is sent can’t have ? * [ ] { } # or a comma in it.',
});

export const finite = z.number('Write a number.').min(-1e9).max(1e9);
export const scale = z.tuple([finite, finite]);

export const lineId = id.nullable();
export const keyCode = z.enum(KEY_CODES, 'Press the key, or write its code, like KeyG, Space or ArrowRight.');
