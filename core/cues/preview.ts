/**
 * What a moment will do, line by line, before anybody calls it: the levels that change, from where to where, and everything else that is sent.
 * The same for what catching up would send.
 */
import type { Group } from '../show/look.js';
import type { Show } from '../show.js';
import { SENDS, saidSend } from '../sends.js';
import { writeSpan } from '../typed/range.js';
import { catchUp } from './catch-up.js';
import { inMs, isNone, type Span } from '../time/span.js';
import { delayOf, expandMoment, fadeOf, type Expanded, type SlotLevels, type Stock } from './expand.js';
import { afterWords, spanIn } from './words.js';

/** The level that a slot of a line has now, 0–255; null if it is unknown. */
export type LevelNow = (lineId: string, slot: number) => number | null;

export interface PreviewRow {
  /** Null for what is done to the show itself, and for what has no line. */
  lineId: string | null;
  /** `Strobes`, `slots 1–12`, `/fog/density 0.7`, `note 28 (E1) at 90` */
  what: string;
  /** For levels: the lowest and the highest level that these slots have now, and the level that they will have, 0–255. */
  levels: { from: [number, number] | null; to: number } | null;
  /** When it happens: `at once`, `over 4 s`, `after 0.5 s, over 2 s`, `for 2 s`. */
  when: string;
}

/** What of a show moments name. */
export type Known = Pick<
  Show,
  'settings' | 'moments' | 'groups' | 'looks' | 'midiFiles' | 'banks' | 'motions' | 'lines'
>;

function whenWords(delay: Span, fade: Span, length: Span | null = null): string {
  const parts = [
    !isNone(delay) && afterWords(delay),
    !isNone(fade) && `over ${spanIn(fade)}`,
    length !== null && `for ${spanIn(length)}`,
  ].filter((part) => part !== false);
  return parts.length > 0 ? parts.join(', ') : 'at once';
}

interface Run {
  what: string;
  slots: number[];
  level: number;
}

/** Gathers slots that get the same level: whole groups by their name, the others in runs of neighbours. */
function gathered(levels: SlotLevels, groups: readonly Group[]): Run[] {
  const left = new Map(levels);
  const runs: Run[] = [];
  for (const { name, slots } of groups) {
    const all = slots.flatMap(([from, to]) => Array.from({ length: to - from + 1 }, (_, at) => from + at));
    const level = left.get(all[0] ?? 0);
    if (level === undefined || !all.every((slot) => left.get(slot) === level)) continue;
    for (const slot of all) left.delete(slot);
    runs.push({ what: name, slots: all, level });
  }
  let last: Run | null = null;
  for (const [slot, level] of [...left].sort(([a], [b]) => a - b)) {
    if (last && last.level === level && last.slots.at(-1) === slot - 1) last.slots.push(slot);
    else runs.push((last = { what: '', slots: [slot], level }));
  }
  for (const run of runs)
    if (run.what === '')
      run.what = `slot${run.slots.length > 1 ? 's' : ''} ${writeSpan([run.slots[0]!, run.slots.at(-1)!])}`;
  return runs;
}

function levelRows(given: Extract<Expanded, { kind: 'levels' }>, show: Known, now: LevelNow): PreviewRow[] {
  const { lineId } = given;
  return gathered(given.levels, show.groups).map(({ what, slots, level }): PreviewRow => {
    const known = lineId === null ? [] : slots.map((slot) => now(lineId, slot));
    const from: [number, number] | null =
      known.length > 0 && !known.includes(null)
        ? [Math.min(...(known as number[])), Math.max(...(known as number[]))]
        : null;
    return {
      lineId,
      what,
      levels: { from, to: level },
      when: whenWords(delayOf(given), fadeOf(given)),
    };
  });
}

function rowsOf(given: Expanded, show: Known, now: LevelNow): PreviewRow[] {
  const delay = delayOf(given);
  if (given.kind === 'levels') return levelRows(given, show, now);
  if (given.kind === 'file')
    return [
      {
        lineId: given.lineId,
        what: `MIDI file, ${given.events.length} messages`,
        levels: null,
        when: whenWords(delay, inMs(0), given.times === 0 ? null : inMs(given.lengthMs * given.times)),
      },
    ];
  const { send, value, fadeMs, fadeBeats, curve } = given;
  const { level, length } = SENDS[send.kind];
  const set = level?.(send, value) ?? null;
  const slots: SlotLevels | null = set && [[set.slot, set.level]];
  if (slots)
    return levelRows(
      {
        kind: 'levels',
        lineId: send.lineId,
        delayMs: delay.ms,
        delayBeats: delay.beats,
        fadeMs,
        fadeBeats,
        curve,
        levels: slots,
      },
      show,
      now,
    );
  return [
    {
      lineId: SENDS[send.kind].protocol === null ? null : send.lineId,
      what: saidSend(send, value, show),
      levels: null,
      when: whenWords(delay, fadeOf(given), length?.(send) ?? null),
    },
  ];
}

const stockOf = ({ groups, looks, midiFiles }: Known): Stock => ({ groups, looks, midiFiles });

/** Rows in the order of the lines of the show; what is done to the show itself comes last. */
function inOrderOfLines(rows: readonly PreviewRow[], { lines }: Known): PreviewRow[] {
  const place = new Map(lines.map(({ id }, at) => [id, at]));
  const of = ({ lineId }: PreviewRow): number =>
    lineId === null ? Infinity : (place.get(lineId) ?? Infinity);
  return [...rows].sort((a, b) => of(a) - of(b) || 0);
}

/** What calling a moment sends. Empty if the moment is not there, or does nothing. */
export function previewCall(show: Known, momentId: string, now: LevelNow): PreviewRow[] {
  const moment = show.moments.find(({ id }) => id === momentId);
  if (!moment) return [];
  const rows = expandMoment(moment, stockOf(show)).flatMap((given) => rowsOf(given, show, now));
  return inOrderOfLines(rows, show);
}

/** What catching up to a moment sends: the state that the moments above it leave. @param fadeMs how long the levels take */
export function previewCatchUp(show: Known, momentId: string, fadeMs: number, now: LevelNow): PreviewRow[] {
  const at = show.moments.findIndex(({ id }) => id === momentId);
  if (at < 0) return [];
  const played = show.moments
    .slice(0, at)
    .filter(({ parked }) => !parked)
    .map((moment) => expandMoment(moment, stockOf(show)));
  const rows = catchUp(played, fadeMs).flatMap((given) => rowsOf(given, show, now));
  return inOrderOfLines(rows, show);
}

/** Whether a row leaves its levels as they are. */
export const stays = ({ levels }: PreviewRow): boolean =>
  levels?.from != null && levels.from[0] === levels.to && levels.from[1] === levels.to;
