/** Makes good what belongs to no channel (RFC 6295, appendices B.1 to B.5). */
import { CLOCKS_PER_POSITION, type SystemHistory } from '../history/system-history.js';
import type {
  SequencerChapter,
  SimpleChapter,
  SysexLog,
  SystemChapters,
  TimecodeChapter,
} from '../journal/system-chapters.js';
import type { Repairs } from './repairs.js';

const COUNTS = 128;
const SYSEX_COUNTS = 256;
/** A system-exclusive message may be a command, like Go: one that may be older is not done any more, in ms. */
export const SYSEX_FRESH_MS = 1000;
/** Clocks that are made good one by one; after more, the position is told. */
const MOST_CLOCKS = 48;
const SONG_CLOCKS = 2 ** 19;
const MOST_POSITION = 0x3fff;

/** Everything is set back first, since what is told besides was said afterwards. */
export function repairReset(repairs: Repairs, simple: SimpleChapter | undefined): void {
  if (!simple?.reset) return;
  const { reset } = repairs.history.system;
  if (!repairs.isFirst && reset.count % COUNTS !== simple.reset.count) repairs.play(0xff);
  reset.count = simple.reset.count;
}

function repairSimple(repairs: Repairs, { tune, song }: SimpleChapter): void {
  const { system } = repairs.history;
  if (tune) {
    if (!repairs.isFirst && system.tune.count % COUNTS !== tune.count) repairs.play(0xf6);
    system.tune.count = tune.count;
  }
  if (song && system.song?.value !== song.value) repairs.play(0xf3, song.value);
}

/** Runs on from a position: the sixteenth before it, and then clocks. */
function locate(repairs: Repairs, clocks: number, played: boolean, runs: boolean): void {
  const position = Math.min(MOST_POSITION, Math.floor(clocks / CLOCKS_PER_POSITION));
  repairs.play(0xf2, position & 0x7f, position >> 7);
  repairs.play(0xfb);
  const more = Math.min(MOST_CLOCKS, clocks - position * CLOCKS_PER_POSITION + (played ? 1 : 0));
  for (let n = 0; n < more; n++) repairs.play(0xf8);
  if (!runs) repairs.play(0xfc);
}

/** How many clocks lead from where we are to where the others are; -1 if none do. */
function clocksBetween(said: SystemHistory['sequencer'], clocks: number, played: boolean): number {
  const between = (clocks - said.clocks + SONG_CLOCKS) % SONG_CLOCKS;
  const count = between + Number(played) - Number(said.played);
  return count >= 0 && (played || count === 0) ? count : -1;
}

function repairSequencer(repairs: Repairs, { runs, played, clocks }: SequencerChapter): void {
  const said = repairs.history.system.sequencer;
  const at = clocks ?? 0;
  if (!played && clocks === null && runs) {
    if (!said.runs || said.played || said.clocks > 0 || !said.fromStart) repairs.play(0xfa);
    return;
  }
  const missing = clocksBetween(said, at, played);
  if (missing === 0 && said.runs === runs) return;
  if (said.runs && missing >= 0 && missing <= MOST_CLOCKS) {
    for (let n = 0; n < missing; n++) repairs.play(0xf8);
    if (!runs) repairs.play(0xfc);
  } else if (missing === 0) {
    repairs.play(0xfb);
  } else if (!runs && !played && at % CLOCKS_PER_POSITION === 0) {
    if (said.runs) repairs.play(0xfc);
    const position = Math.min(MOST_POSITION, at / CLOCKS_PER_POSITION);
    repairs.play(0xf2, position & 0x7f, position >> 7);
  } else {
    if (said.runs) repairs.play(0xfc);
    locate(repairs, at, played, runs);
  }
}

/** A place that was told at once is told again; what runs in quarter frames goes on by itself with the next ones. */
function repairTimecode(repairs: Repairs, { complete, partial }: TimecodeChapter): void {
  if (!complete || complete.quarterFrames || partial) return;
  const said = repairs.history.system.timecode;
  const isThere =
    said.complete !== null &&
    !said.complete.quarterFrames &&
    said.partial === null &&
    said.complete.octets.every((octet, at) => octet === complete.octets[at]);
  if (isThere) return;
  repairs.play(0xf0, 0x7f, 0x7f, 0x01, 0x01, ...complete.octets, 0xf7);
  // How many more of them were lost is not known, and they are counted with the others.
  repairs.history.system.sysex.count = null;
}

function repairSysex(repairs: Repairs, logs: readonly SysexLog[]): void {
  const { sysex } = repairs.history.system;
  for (const { count, data, state } of logs) {
    if (count === null) continue;
    const isKnown = sysex.count !== null && !repairs.isFirst;
    const ahead = isKnown ? (count - sysex.count! + SYSEX_COUNTS * SYSEX_COUNTS) % SYSEX_COUNTS : 0;
    const isLost = ahead > 0 && ahead < SYSEX_COUNTS / 2;
    if (isLost) {
      const isWhole = data !== null && state === 'finished' && repairs.gapMs <= SYSEX_FRESH_MS;
      if (isWhole) repairs.play(0xf0, ...data, 0xf7);
      repairs.loseSysex(ahead - (isWhole ? 1 : 0));
    }
    if (isLost || !isKnown) sysex.count = count;
  }
}

/** All but a reset, which comes before the channels. */
export function repairSystem(repairs: Repairs, chapters: SystemChapters): void {
  const { simple, sequencer, timecode, sysex } = chapters;
  if (simple) repairSimple(repairs, simple);
  if (sequencer) repairSequencer(repairs, sequencer);
  if (timecode) repairTimecode(repairs, timecode);
  if (sysex) repairSysex(repairs, sysex);
}
