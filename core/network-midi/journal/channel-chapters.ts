/**
 * The chapters of a channel in the recovery journal, octets to fields and back (RFC 6295, appendices A.2 to A.9).
 *
 * `single` is the S bit everywhere: true if nothing in the element is of the packet just before, so that who has lost only that one may pass over it
 * (A.1). In notes it is called B.
 */
import { NetworkMidiError } from '../rtp.js';
import { flag, has, seven, type Coding, type OctetReader } from './octets.js';
import { parameters, type ParameterChapter } from './parameters.js';

/** Program change (A.2). */
export interface ProgramChapter {
  single: boolean;
  program: number;
  /** The bank that was chosen before; `reset` if all controllers were reset in between (X). Null for none. */
  bank: { msb: number; lsb: number; reset: boolean } | null;
}

/** A controller (A.3.2): its value; how often it was switched, or how often it was sent, both modulo 64. */
export interface ControllerLog {
  single: boolean;
  number: number;
  tool: 'value' | 'toggle' | 'count';
  value: number;
}

export interface NoteLog {
  single: boolean;
  note: number;
  /** Whether the press is recommended to be made good (Y). */
  play: boolean;
  /** 1–127. */
  velocity: number;
}

/** Notes (A.6). */
export interface NoteChapter {
  /** Of the releases (B). */
  single: boolean;
  on: NoteLog[];
  /** Notes that were released, in order. */
  off: number[];
}

/** Presses without a release between, or the force of a release (A.7). */
export interface NoteExtra {
  single: boolean;
  note: number;
  what: 'count' | 'velocity';
  value: number;
}

/** Pressure on a note (A.9); `off` if all notes were switched off since (X). */
export interface NotePressure {
  single: boolean;
  note: number;
  off: boolean;
  value: number;
}

export interface ChannelChapters {
  program?: ProgramChapter;
  controllers?: { single: boolean; logs: ControllerLog[] };
  parameters?: ParameterChapter;
  /** 0–16383 (A.5). */
  bend?: { single: boolean; value: number };
  notes?: NoteChapter;
  extras?: { single: boolean; logs: NoteExtra[] };
  /** Channel pressure (A.8). */
  pressure?: { single: boolean; value: number };
  notePressures?: { single: boolean; logs: NotePressure[] };
}

type Chapter = keyof ChannelChapters;
const program: Coding<ProgramChapter> = {
  read(from) {
    const [first, msb, lsb] = [from.u8(), from.u8(), from.u8()];
    return {
      single: has(first, 7),
      program: seven(first),
      bank: has(msb, 7) ? { msb: seven(msb), lsb: seven(lsb), reset: has(lsb, 7) } : null,
    };
  },
  write: ({ single, program: number, bank }) => [
    flag(single, 7) | number,
    bank ? 0x80 | bank.msb : 0,
    bank ? flag(bank.reset, 7) | bank.lsb : 0,
  ],
};

/** A list of logs of two octets behind a header that counts them, less one. */
function logsOf<Log>(
  read: (first: number, second: number) => Log,
  write: (log: Log) => [number, number],
): Coding<{ single: boolean; logs: Log[] }> {
  return {
    read(from) {
      const header = from.u8();
      const logs = Array.from({ length: seven(header) + 1 }, () => read(from.u8(), from.u8()));
      return { single: has(header, 7), logs };
    },
    write({ single, logs }) {
      if (logs.length < 1 || logs.length > 128)
        throw new RangeError(`a list has 1 to 128 logs: ${logs.length}`);
      return [flag(single, 7) | (logs.length - 1), ...logs.flatMap(write)];
    },
  };
}

const controllers = logsOf<ControllerLog>(
  (first, second) => ({
    single: has(first, 7),
    number: seven(first),
    tool: !has(second, 7) ? 'value' : has(second, 6) ? 'count' : 'toggle',
    value: has(second, 7) ? second & 0x3f : seven(second),
  }),
  ({ single, number, tool, value }) => [
    flag(single, 7) | number,
    tool === 'value' ? value : 0x80 | flag(tool === 'count', 6) | value,
  ],
);

const bend: Coding<{ single: boolean; value: number }> = {
  read(from) {
    const [first, second] = [from.u8(), from.u8()];
    return { single: has(first, 7), value: (seven(second) << 7) | seven(first) };
  },
  write: ({ single, value }) => [flag(single, 7) | (value & 0x7f), value >> 7],
};

const MOST_LOGS = 128;

const notes: Coding<NoteChapter> = {
  read(from) {
    const [header, bounds] = [from.u8(), from.u8()];
    const [low, high] = [bounds >> 4, bounds & 0x0f];
    if (low > high && !(low === 15 && high <= 1))
      throw new NetworkMidiError('releases in a journal without their bounds');
    const isFull = seven(header) === 127 && low === 15 && high === 0;
    const on = Array.from({ length: isFull ? MOST_LOGS : seven(header) }, (): NoteLog => {
      const [first, second] = [from.u8(), from.u8()];
      return { single: has(first, 7), note: seven(first), play: has(second, 7), velocity: seven(second) };
    });
    const off: number[] = [];
    for (let octet = low; octet <= high; octet++) {
      const bits = from.u8();
      for (let bit = 7; bit >= 0; bit--) if (has(bits, bit)) off.push(octet * 8 + 7 - bit);
    }
    return { single: has(header, 7), on, off };
  },
  write({ single, on, off }) {
    // A note is in one of both, once.
    if (on.length + off.length > MOST_LOGS)
      throw new RangeError(`there are up to ${MOST_LOGS} notes: ${on.length + off.length}`);
    const octets = off.map((note) => note >> 3);
    const [low, high] =
      off.length > 0 ? [Math.min(...octets), Math.max(...octets)] : [15, on.length === 127 ? 1 : 0];
    const bits = Array.from({ length: Math.max(0, high - low + 1) }, (_, at) =>
      off.reduce((sum, note) => (note >> 3 === low + at ? sum | (0x80 >> (note & 7)) : sum), 0),
    );
    return [
      flag(single, 7) | Math.min(127, on.length),
      (low << 4) | high,
      ...on.flatMap((log) => [flag(log.single, 7) | log.note, flag(log.play, 7) | log.velocity]),
      ...bits,
    ];
  },
};

const extras = logsOf<NoteExtra>(
  (first, second) => ({
    single: has(first, 7),
    note: seven(first),
    what: has(second, 7) ? 'velocity' : 'count',
    value: seven(second),
  }),
  ({ single, note, what, value }) => [flag(single, 7) | note, flag(what === 'velocity', 7) | value],
);

const pressure: Coding<{ single: boolean; value: number }> = {
  read(from) {
    const octet = from.u8();
    return { single: has(octet, 7), value: seven(octet) };
  },
  write: ({ single, value }) => [flag(single, 7) | value],
};

const notePressures = logsOf<NotePressure>(
  (first, second) => ({
    single: has(first, 7),
    note: seven(first),
    off: has(second, 7),
    value: seven(second),
  }),
  ({ single, note, off, value }) => [flag(single, 7) | note, flag(off, 7) | value],
);

/** In the order of their bits, the highest first (section 5, figure 9: P, C, M, W, N, E, T, A). */
const CODINGS: { readonly [C in Chapter]: Coding<NonNullable<ChannelChapters[C]>> } = {
  program,
  controllers,
  parameters,
  bend,
  notes,
  extras,
  pressure,
  notePressures,
};
const CHAPTERS = Object.keys(CODINGS) as Chapter[];

/** @param contents which chapters there are, a bit each. @throws NetworkMidiError */
export function readChannelChapters(contents: number, from: OctetReader): ChannelChapters {
  const chapters: Record<string, unknown> = {};
  CHAPTERS.forEach((name, at) => {
    if (has(contents, 7 - at)) chapters[name] = CODINGS[name].read(from);
  });
  return chapters;
}

/** @returns which chapters there are, and their octets. @throws RangeError if one is too long */
export function writeChannelChapters(chapters: ChannelChapters): { contents: number; octets: number[] } {
  let contents = 0;
  const octets: number[] = [];
  CHAPTERS.forEach((name, at) => {
    const chapter = chapters[name];
    if (chapter === undefined) return;
    contents |= flag(true, 7 - at);
    for (const octet of (CODINGS[name] as Coding<unknown>).write(chapter)) octets.push(octet);
  });
  return { contents, octets };
}
