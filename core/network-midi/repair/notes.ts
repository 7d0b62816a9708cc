/** Makes good the notes of a channel: what hangs is released first, and presses come last (RFC 6295, appendices A.6 and A.7). */
import { RELEASE_AS_USUAL, type ChannelHistory } from '../history/channel-history.js';
import type { ChannelChapters, NoteLog } from '../journal/channel-chapters.js';
import type { Repairs } from './repairs.js';

const PRESS = 0x90;
const RELEASE = 0x80;

/** Releases a note as often as it was pressed. */
function release(
  repairs: Repairs,
  channel: ChannelHistory,
  number: number,
  note: number,
  velocity: number,
): void {
  do repairs.play(RELEASE | number, note, velocity);
  while ((channel.stacked.get(note) ?? 0) > 0);
}

const isDown = (channel: ChannelHistory, note: number): boolean =>
  (channel.notes.get(note)?.velocity ?? 0) > 0 || (channel.stacked.get(note) ?? 0) > 0;

/** The number that is told of a note in the extras. */
const extraOf = ({ extras }: ChannelChapters, what: 'count' | 'velocity', note: number): number | null =>
  extras?.logs.find((log) => log.what === what && log.note === note)?.value ?? null;

/** Releases what is not down any more. */
export function repairReleases(
  repairs: Repairs,
  channel: ChannelHistory,
  number: number,
  chapters: ChannelChapters,
): void {
  for (const note of chapters.notes?.off ?? []) {
    const velocity = extraOf(chapters, 'velocity', note) ?? RELEASE_AS_USUAL;
    const count = extraOf(chapters, 'count', note) ?? 0;
    const stacked = channel.stacked.get(note) ?? 0;
    const said = channel.notes.get(note);
    if (said?.velocity === 0 ? stacked > count : isDown(channel, note))
      release(repairs, channel, number, note, velocity);
    else if (!said) repairs.pass(RELEASE | number, note, velocity);
    channel.stacked.set(note, count);
  }
}

/** Releases what is down here, though the journal does not tell of it as down: for a gap that it does not cover. */
export function releaseUntold(
  repairs: Repairs,
  channel: ChannelHistory,
  number: number,
  on: readonly NoteLog[],
): void {
  for (const [note] of [...channel.notes])
    if (isDown(channel, note) && !on.some((log) => log.note === note))
      release(repairs, channel, number, note, RELEASE_AS_USUAL);
}

/** Presses what is down, if that is fresh enough. A press that is too old is made good as its release. */
export function repairPresses(
  repairs: Repairs,
  channel: ChannelHistory,
  number: number,
  chapters: ChannelChapters,
): void {
  for (const { note, velocity, play } of chapters.notes?.on ?? []) {
    const count = extraOf(chapters, 'count', note) ?? 1;
    const said = channel.notes.get(note);
    if (said?.velocity === velocity && (channel.stacked.get(note) ?? 0) === count) continue;
    if (isDown(channel, note) || !play) release(repairs, channel, number, note, RELEASE_AS_USUAL);
    if (play) repairs.play(PRESS | number, note, velocity);
    else repairs.pass(PRESS | number, note, velocity);
    channel.stacked.set(note, count);
  }
}
