/** MIDI clock: 24 a beat; with start, stop and song position. It is heard by core/time/tempo-sources. */
import { z } from 'zod';
import {
  CLOCK,
  CLOCKS_PER_BEAT,
  CLOCKS_PER_SIXTEENTH,
  CONTINUE,
  SONG_POSITION,
  START,
  STOP,
} from '../clock-chase.js';
import { positionAt, type Motion } from '../position.js';
import { beatAt, timeOf, type Tempo } from '../tempo.js';
import { HEARD, isMidi, SENT, type Output, type OutputPlace, type TimeWay } from './way.js';

export const source = z.object({ ...HEARD, kind: z.literal('clock') });
export const output = z.object({
  ...SENT,
  kind: z.literal('clock'),
  /** Whether start, stop and song position are sent as the position runs and stops. */
  startStop: z.boolean().default(true),
  /**
   * What is done about clocks that are late, as on a machine that stood still: all are sent at once, or the place is told anew, with stop, song position and
   * continue. That needs start and stop, and a position that runs; without, they are sent at once.
   */
  behind: z.enum(['catchUp', 'place'], 'Choose one of the two.').default('catchUp'),
});
type Row = z.infer<typeof output>;

/** A tempo that has moved by more than this many clocks is taken up anew. */
const MOST_CLOCKS_OFF = 3;
/** More clocks than this are late where the place is told anew. */
const MOST_LATE = 3;
/** Clocks that are sent at once if the engine was late. A receiver counts them, so that none is left out; the rest follows at once. */
const MOST_AT_ONCE = 24;
/** After a silence of more than so many clocks, as of a machine that slept, they are counted anew. */
const MOST_MISSED = 32 * CLOCKS_PER_BEAT;
/** A song position has 14 bits. */
const LAST_SIXTEENTH = 16_383;

/** Clocks are counted from beat 0 of the tempo. `offsetMs` is how much later each is sent. */
function sender({ startStop, behind, offsetMs }: Row, { tempo, put, songBeatOf }: OutputPlace): Output {
  let next: number | null = null;
  let counted: Tempo | null = null;
  /** The clock with which a receiver that was told its place continues. */
  let continuesAt: number | null = null;
  const say = (status: number, data = 0): void =>
    put({ kind: 'system', status, data1: data & 0x7f, data2: data >> 7 });
  /** The clock that comes next, with its fraction. */
  const here = (now: number): number => beatAt(tempo(), now - offsetMs) * CLOCKS_PER_BEAT;
  /** How many clocks the beat has moved by, because the tempo is another one. */
  function moved(now: number): number {
    const [before, after] = [counted ?? tempo(), tempo()];
    counted = after;
    return before === after
      ? 0
      : beatAt(after, now) * CLOCKS_PER_BEAT - beatAt(before, now) * CLOCKS_PER_BEAT;
  }
  function upNext(now: number): number {
    const due = Math.ceil(here(now) - 1e-6);
    const jumped = Math.abs(moved(now - offsetMs)) > MOST_CLOCKS_OFF;
    const isAhead = continuesAt === null && next !== null && next - due > MOST_CLOCKS_OFF;
    if (next === null || jumped || due - next > MOST_MISSED || isAhead) {
      next = due;
      if (continuesAt !== null) continuesAt = due;
    }
    return next;
  }
  /** A receiver stops, and continues at the next sixteenth of the song. */
  function tellPlace(motion: Motion, now: number): void {
    const song = songBeatOf(Math.max(0, positionAt(motion, now))) * CLOCKS_PER_BEAT;
    const sixteenth = Math.min(LAST_SIXTEENTH, Math.ceil(song / CLOCKS_PER_SIXTEENTH - 1e-6));
    say(STOP);
    say(SONG_POSITION, sixteenth);
    next = continuesAt = Math.ceil(here(now) + sixteenth * CLOCKS_PER_SIXTEENTH - song - 1e-6);
  }
  return {
    dueAt: (_, now) => Math.max(now, timeOf(tempo(), upNext(now) / CLOCKS_PER_BEAT) + offsetMs),
    send(motion, now) {
      const isLate = next !== null && here(now) - upNext(now) > MOST_LATE;
      if (behind === 'place' && startStop && motion.speed > 0 && isLate) tellPlace(motion, now);
      for (let sent = 0; sent < MOST_AT_ONCE && here(now) - upNext(now) >= -1e-6; sent++) {
        if (continuesAt !== null) say(CONTINUE);
        continuesAt = null;
        say(CLOCK);
        next = upNext(now) + 1;
      }
    },
    turned(motion, now) {
      if (!startStop) return;
      continuesAt = null;
      if (motion.speed === 0) return say(STOP);
      const beats = songBeatOf(Math.max(0, positionAt(motion, now)));
      const sixteenths = Math.min(LAST_SIXTEENTH, Math.floor(beats * 4));
      if (sixteenths === 0) return say(START);
      say(SONG_POSITION, sixteenths);
      say(CONTINUE);
    },
  };
}

export const clock: TimeWay<z.infer<typeof source>, Row> = {
  words: 'MIDI clock',
  of: 'tempo',
  fits: isMidi,
  lineWords: 'a MIDI line',
  output: sender,
  sends: ({ startStop }) => (startStop ? 'start, stop, song position' : 'clocks only'),
};
