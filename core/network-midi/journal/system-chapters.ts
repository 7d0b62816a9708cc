/** The chapters of what belongs to no channel in the recovery journal, octets to fields and back (RFC 6295, appendices B.1 to B.5). `single` is the S bit (A.1). */
import { NetworkMidiError } from '../rtp.js';
import { flag, has, seven, type Coding, type OctetReader } from './octets.js';

interface Counted {
  single: boolean;
  /** Modulo 128. */
  count: number;
}

/** Reset, tune request and song select (B.1). What MIDI has not defined is passed over, and never written. */
export interface SimpleChapter {
  single: boolean;
  reset: Counted | null;
  tune: Counted | null;
  song: { single: boolean; value: number } | null;
}

/** Start, stop, continue, clock and song position (B.3). */
export interface SequencerChapter {
  single: boolean;
  runs: boolean;
  /** Whether the position has been played (D). */
  played: boolean;
  /** In clocks, modulo 2^19; null for the start of the song, as Start tells it. */
  clocks: number | null;
  /** A correction in ms, of sequencers that have no clock; null for none. */
  ms: number | null;
}

/** A timecode in eight parts of four bits, the first one first. */
export type TimecodeParts = [number, number, number, number];

/** MIDI timecode (B.4). */
export interface TimecodeChapter {
  single: boolean;
  backward: boolean;
  /** The last that was whole: of quarter frames (two frames on, if forward), or hours, minutes, seconds and frames of a full frame. */
  complete: { quarterFrames: boolean; octets: TimecodeParts } | null;
  /** What has come of the next one, up to the part `point`. */
  partial: { point: number; octets: TimecodeParts } | null;
}

/** What became of a system-exclusive message: it is still coming; it was cancelled; its end was left out; it is whole (STA, B.5.1). */
export const SYSEX_STATES = ['unfinished', 'cancelled', 'dropped', 'finished'] as const;

/** A system-exclusive message (B.5). */
export interface SysexLog {
  single: boolean;
  state: (typeof SYSEX_STATES)[number];
  /** True if each message is told; false if only the last of its type is (L). */
  lists: boolean;
  /** How many there were of its type, and of all; modulo 256. Null for what is not told. */
  typeCount: number | null;
  count: number | null;
  /** Where its data begins in the message; null for the beginning. */
  first: number | null;
  /** Without status octets; null for what is not told. */
  data: Uint8Array | null;
}

export interface SystemChapters {
  simple?: SimpleChapter;
  activeSense?: Counted;
  sequencer?: SequencerChapter;
  timecode?: TimecodeChapter;
  sysex?: SysexLog[];
}

const counted: Coding<Counted> = {
  read(from) {
    const octet = from.u8();
    return { single: has(octet, 7), count: seven(octet) };
  },
  write: ({ single, count }) => [flag(single, 7) | count],
};

const simple: Coding<SimpleChapter> = {
  read(from) {
    const header = from.u8();
    const chapter: SimpleChapter = {
      single: has(header, 7),
      reset: has(header, 6) ? counted.read(from) : null,
      tune: has(header, 5) ? counted.read(from) : null,
      song: null,
    };
    if (has(header, 4)) {
      const { single, count } = counted.read(from);
      chapter.song = { single, value: count };
    }
    // Commands that MIDI has not defined, with lengths of their own (B.1.1).
    for (const bit of [3, 2]) if (has(header, bit)) from.element(from.u16() & 0x3ff, 2);
    for (const bit of [1, 0]) if (has(header, bit)) from.element(from.u8() & 0x1f, 1);
    return chapter;
  },
  write: ({ single, reset, tune, song }) => [
    flag(single, 7) | flag(reset !== null, 6) | flag(tune !== null, 5) | flag(song !== null, 4),
    ...(reset ? counted.write(reset) : []),
    ...(tune ? counted.write(tune) : []),
    ...(song ? counted.write({ single: song.single, count: song.value }) : []),
  ],
};

const sequencer: Coding<SequencerChapter> = {
  read(from) {
    const header = from.u8();
    const hasClocks = has(header, 4);
    return {
      single: has(header, 7),
      runs: has(header, 6),
      played: has(header, 5),
      clocks: hasClocks ? (header & 7) * 65_536 + from.u16() : null,
      ms: has(header, 3) ? from.u8() * 65_536 + from.u16() : null,
    };
  },
  write: ({ single, runs, played, clocks, ms }) => [
    flag(single, 7) |
      flag(runs, 6) |
      flag(played, 5) |
      flag(clocks !== null, 4) |
      flag(ms !== null, 3) |
      ((clocks ?? 0) >> 16),
    ...(clocks === null ? [] : [(clocks >> 8) & 0xff, clocks & 0xff]),
    ...(ms === null ? [] : [ms >> 16, (ms >> 8) & 0xff, ms & 0xff]),
  ],
};

const four = (from: OctetReader): TimecodeParts => [from.u8(), from.u8(), from.u8(), from.u8()];

const timecode: Coding<TimecodeChapter> = {
  read(from) {
    const header = from.u8();
    return {
      single: has(header, 7),
      backward: has(header, 3),
      complete: has(header, 6) ? { quarterFrames: has(header, 4), octets: four(from) } : null,
      partial: has(header, 5) ? { point: header & 7, octets: four(from) } : null,
    };
  },
  write: ({ single, backward, complete, partial }) => [
    flag(single, 7) |
      flag(complete !== null, 6) |
      flag(partial !== null, 5) |
      flag(complete?.quarterFrames ?? false, 4) |
      flag(backward, 3) |
      (partial?.point ?? (backward ? 0 : 7)),
    ...(complete?.octets ?? []),
    ...(partial?.octets ?? []),
  ],
};

/** An integer in up to four octets of seven bits (figure B.5.2). */
function readFirst(from: OctetReader): number {
  let value = 0;
  for (let octets = 0; octets < 4; octets++) {
    const octet = from.u8();
    value = value * 128 + seven(octet);
    if (octet < 0x80) return value;
  }
  throw new NetworkMidiError('a number in a journal without its end');
}

function firstOctets(value: number): number[] {
  if (value >= 2 ** 28) throw new RangeError(`a place is below 2^28: ${value}`);
  return [21, 14, 7]
    .flatMap((shift) => (value >= 2 ** shift ? [0x80 | ((value >> shift) & 0x7f)] : []))
    .concat(value & 0x7f);
}

function readSysex(from: OctetReader): SysexLog {
  const header = from.u8();
  const log: SysexLog = {
    single: has(header, 7),
    state: SYSEX_STATES[header & 3]!,
    lists: has(header, 2),
    typeCount: has(header, 6) ? from.u8() : null,
    count: has(header, 5) ? from.u8() : null,
    first: has(header, 4) ? readFirst(from) : null,
    data: null,
  };
  if (!has(header, 3)) return log;
  // The last octet is the one whose highest bit is set.
  const data: number[] = [];
  for (let isLast = false; !isLast;) {
    const octet = from.u8();
    isLast = has(octet, 7);
    data.push(seven(octet));
  }
  log.data = Uint8Array.from(data);
  return log;
}

function writeSysex({ single, state, lists, typeCount, count, first, data }: SysexLog): number[] {
  if (data?.length === 0) throw new RangeError('data that is told has an octet at least');
  return [
    flag(single, 7) |
      flag(typeCount !== null, 6) |
      flag(count !== null, 5) |
      flag(first !== null, 4) |
      flag(data !== null, 3) |
      flag(lists, 2) |
      SYSEX_STATES.indexOf(state),
    ...(typeCount === null ? [] : [typeCount]),
    ...(count === null ? [] : [count]),
    ...(first === null ? [] : firstOctets(first)),
    ...(data ? [...data].map((octet, at) => (at === data.length - 1 ? octet | 0x80 : octet)) : []),
  ];
}

/** Has no header: it goes to the end of the journal of the system. */
const sysex: Coding<SysexLog[]> = {
  read(from) {
    const logs: SysexLog[] = [];
    while (from.left > 0) logs.push(readSysex(from));
    return logs;
  },
  write: (logs) => logs.flatMap(writeSysex),
};

/** In the order of their bits, the highest first (section 5, figure 10: D, V, Q, F, X). */
const CODINGS: { readonly [C in keyof SystemChapters]-?: Coding<NonNullable<SystemChapters[C]>> } = {
  simple,
  activeSense: counted,
  sequencer,
  timecode,
  sysex,
};
const CHAPTERS = Object.keys(CODINGS) as (keyof SystemChapters)[];
/** The bit of the first chapter in the first octet of the header. */
const FIRST_BIT = 6;

/** @param header the first octet of the journal of the system. @throws NetworkMidiError */
export function readSystemChapters(header: number, from: OctetReader): SystemChapters {
  const chapters: Record<string, unknown> = {};
  CHAPTERS.forEach((name, at) => {
    if (has(header, FIRST_BIT - at)) chapters[name] = CODINGS[name].read(from);
  });
  return chapters;
}

/** @returns which chapters there are, as bits of the header, and their octets. @throws RangeError */
export function writeSystemChapters(chapters: SystemChapters): { contents: number; octets: number[] } {
  let contents = 0;
  const octets: number[] = [];
  CHAPTERS.forEach((name, at) => {
    const chapter = chapters[name];
    if (chapter === undefined) return;
    contents |= flag(true, FIRST_BIT - at);
    for (const octet of (CODINGS[name] as Coding<unknown>).write(chapter)) octets.push(octet);
  });
  return { contents, octets };
}
