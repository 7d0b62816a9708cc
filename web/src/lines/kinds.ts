/** The kinds of line, in words. One row for each kind. */
import { CARRIES, type Line, type LineKind } from '@tawny-signal/core/show';
import type { NewLine } from '../show/show';

export interface KindInfo {
  words: string;
  /** What it is for, where one is chosen. */
  about: string;
  /** Under the line's name. */
  detail: (line: never) => string;
  /** What a new one starts with. */
  start: (name: string) => NewLine;
}

type DetailOf<K extends LineKind> = (line: Extract<Line, { kind: K }>) => string;
type KindTable = { [K in LineKind]: Omit<KindInfo, 'detail'> & { detail: DetailOf<K> } };

export const KINDS: KindTable = {
  'midi-browser': {
    words: 'MIDI port of a browser',
    about: 'A controller or program on the machine where this page is open.',
    detail: (line) => `MIDI · browser${line.port === line.name ? '' : ` · ${line.port}`}`,
    start: (name) => ({ kind: 'midi-browser', name, port: 'Port name' }),
  },
  'midi-inside': {
    words: 'MIDI port of a stand-in',
    about: 'A simulated device that ships with Tawny Signal.',
    detail: () => 'MIDI · stand-in',
    start: (name) => ({ kind: 'midi-inside', name, port: 'Pier pads' }),
  },
  'osc-udp': {
    words: 'OSC over UDP',
    about: 'Visuals and other programs that listen for OSC messages.',
    detail: (line) => `OSC · ${line.host}:${line.port}`,
    start: (name) => ({ kind: 'osc-udp', name, host: '127.0.0.1', port: 9000, listenPort: null }),
  },
  'osc-tcp': {
    words: 'OSC over TCP',
    about: 'Programs that take OSC over a connection, where nothing may be lost.',
    detail: (line) => `OSC · TCP ${line.host}:${line.port}`,
    start: (name) => ({
      kind: 'osc-tcp',
      name,
      host: '127.0.0.1',
      port: 9000,
      framing: 'slip',
      listenPort: null,
    }),
  },
};

export const KIND_NAMES = Object.keys(KINDS) as LineKind[];

export function lineKindWords(line: Line): string {
  return (KINDS[line.kind].detail as (line: Line) => string)(line);
}

/** A name that no row has yet. */
export function freeName(rows: { name: string }[], base: string): string {
  const used = new Set(rows.map((row) => row.name.toLowerCase()));
  if (!used.has(base.toLowerCase())) return base;
  for (let n = 2; ; n++) if (!used.has(`${base} ${n}`.toLowerCase())) return `${base} ${n}`;
}

export const isMidiLine = (line: Line | undefined): boolean =>
  line !== undefined && CARRIES[line.kind] === 'midi';
