/** Who is here: what each page says of itself, and what all pages are told of it. */
import { z } from 'zod';
import { line } from '../show/text.js';
import type { Role } from './roles.js';

export const LONGEST_PATH = 300;
export const LONGEST_LABEL = 80;
/** The most pages that a page is told of: more than a person reads. */
export const MOST_HERE = 100;
/** The page that is read from afar: it shows nothing of what passes, and is told nothing of it. */
export const AFAR = '/afar';
/** The id of a page, from loading it until it is closed. Its HTTP calls have it in `X-Page`. */
export const PAGE_ID = /^[\da-f]{8,32}$/;

export const hereSchema = z.object({
  page: z.string().regex(PAGE_ID),
  /** What its browser is called; empty if nobody named it. */
  name: line(40, 'A browser’s name has at most 40 characters.'),
  /** Where it is, within the page that we serve. */
  path: z
    .string()
    .max(LONGEST_PATH)
    .regex(/^\/(?!\/)/),
  /** The field that is being written in, by its label; null for none. */
  field: z.string().max(LONGEST_LABEL).nullable(),
  /** True while nobody can see it: another tab is in front of it, or the screen is off. */
  hidden: z.boolean(),
  /** True while it shows who is everywhere, and not only who is at the same place. */
  lists: z.boolean().default(false),
});
export type Here = z.infer<typeof hereSchema>;

/** A page that is connected. */
export interface HereSeen extends Omit<Here, 'page' | 'lists'> {
  /** The number of its connection. */
  id: number;
  role: Role;
  /** The address of its machine; empty for ours. */
  from: string;
  /** The browser, as it says of itself. */
  browser: string;
  /** Milliseconds since 1970. */
  since: number;
  /** How long a question to it and its answer take, in ms: the shortest of the last ones; null before the first. */
  tripMs: number | null;
  /** The MIDI ports and the sound that are plugged in there and that it offers. */
  ports: string[];
}

/** Rounds a round trip to what a person would notice: to 1 ms, from 10 ms on to 5 ms, from 100 ms on to 50 ms. */
export function roundTrip(ms: number): number {
  const step = ms < 10 ? 1 : ms < 100 ? 5 : 50;
  return Math.max(1, Math.round(ms / step) * step);
}

/** `Mara`, `A browser of the server’s machine`, `Safari, iPad at 192.0.2.7` */
export function hereName({ name, from, browser }: Pick<HereSeen, 'name' | 'from' | 'browser'>): string {
  if (name !== '') return name;
  return from === '' ? 'A browser of the server’s machine' : `${browser} at ${from}`;
}
