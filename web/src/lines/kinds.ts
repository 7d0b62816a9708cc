/** Describes each kind of line. */
import { ARTNET_PORT } from '@tawny-signal/core/dmx/artnet';
import { SACN_PORT } from '@tawny-signal/core/dmx/sacn';
import { CARRIES, type Line, type LineKind, type NewLine, type Protocol } from '@tawny-signal/core/show/line';

export interface KindInfo {
  words: string;
  /** What it is for, in the list of kinds to choose from. */
  about: string;
  /** The text under the name of the line. */
  detail: (line: never) => string;
  /** The fields of a new line. */
  start: (name: string) => NewLine;
}

type DetailOf<K extends LineKind> = (line: Extract<Line, { kind: K }>) => string;
type KindTable = { [K in LineKind]: Omit<KindInfo, 'detail'> & { detail: DetailOf<K> } };

const HERE = '127.0.0.1';
const portDetail = (line: { name: string; port: string }): string =>
  line.port === line.name ? '' : ` · ${line.port}`;
/** `universe 3`, `universe 3 · to everyone` */
const dmxDetail = (line: Extract<Line, { kind: 'artnet' | 'sacn' }>): string =>
  `universe ${line.universe}${line.everyone ? ' · to everyone' : ''}`;

export const KINDS: KindTable = {
  'midi-browser': {
    words: 'MIDI port of a browser',
    about: 'A controller or program on the machine where this page is open.',
    detail: (line) => `MIDI · browser${portDetail(line)}`,
    start: (name) => ({ kind: 'midi-browser', name, port: 'Port name' }),
  },
  'sound-browser': {
    words: 'Sound of a browser',
    about: 'Linear timecode in or out of a sound device on the machine where this page is open.',
    detail: (line) => `sound · browser${portDetail(line)}`,
    start: (name) => ({ kind: 'sound-browser', name, port: 'Device name' }),
  },
  'sound-machine': {
    words: 'Sound of the server’s machine',
    about: 'Linear timecode in or out of a sound card of the machine where Tawny Signal runs.',
    detail: ({ hears, plays }) =>
      `sound · this machine${hears === '' ? '' : ` · hears ${hears}`}${plays === '' ? '' : ` · plays ${plays}`}`,
    start: (name) => ({ kind: 'sound-machine', name, hears: 'default' }),
  },
  'midi-machine': {
    words: 'MIDI port of the server’s machine',
    about: 'A controller plugged into the machine where Tawny Signal runs.',
    detail: (line) => `MIDI · this machine${portDetail(line)}`,
    start: (name) => ({ kind: 'midi-machine', name, port: 'Port name' }),
  },
  'midi-virtual': {
    words: 'Virtual MIDI port',
    about: 'A new port that other programs on the server’s machine can see.',
    detail: (line) => `MIDI · virtual${portDetail(line)}`,
    start: (name) => ({ kind: 'midi-virtual', name, port: name }),
  },
  'midi-network': {
    words: 'Network MIDI session',
    about: 'The machine at front of house, or another program on this one: whatever is played there or here.',
    detail: ({ calls }) => `MIDI · network${calls.length > 0 ? ` · calls ${calls.join(', ')}` : ''}`,
    start: (name) => ({ kind: 'midi-network', name, session: name }),
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
    start: (name) => ({ kind: 'osc-udp', name, host: HERE, port: 9000, listenPort: null }),
  },
  'osc-tcp': {
    words: 'OSC over TCP',
    about: 'Programs that take OSC over a connection, so that nothing is lost.',
    detail: (line) => `OSC · TCP ${line.host}:${line.port}`,
    start: (name) => ({ kind: 'osc-tcp', name, host: HERE, port: 9000, framing: 'slip', listenPort: null }),
  },
  'osc-ws': {
    words: 'OSC over WebSocket',
    about: 'Visuals that run in a browser: they connect to us, or we to them.',
    detail: (line) => `OSC · WebSocket ${line.host === null ? line.listenPort : `${line.host}:${line.port}`}`,
    start: (name) => ({ kind: 'osc-ws', name, host: null, port: 9000, listenPort: 9001 }),
  },
  sacn: {
    words: 'DMX over sACN',
    about: 'A universe of lights, by the streaming standard of lighting desks.',
    detail: (line) => `sACN · ${dmxDetail(line)}`,
    start: (name) => ({
      kind: 'sacn',
      name,
      universe: 1,
      host: HERE,
      port: SACN_PORT,
      listenPort: null,
    }),
  },
  artnet: {
    words: 'DMX over Art-Net',
    about: 'A universe of lights, for most network boxes and visual programs.',
    detail: (line) => `Art-Net · ${dmxDetail(line)}`,
    start: (name) => ({
      kind: 'artnet',
      name,
      universe: 0,
      host: HERE,
      port: ARTNET_PORT,
      listenPort: null,
    }),
  },
  'keys-machine': {
    words: 'Keys typed on this machine',
    about: 'For programs that are controlled by keys only. Typed on the server’s machine.',
    detail: (line) => `Keys · ${line.on ? line.windowTitle || 'any window' : 'switched off'}`,
    start: (name) => ({ kind: 'keys-machine', name }),
  },
  'keys-browser': {
    words: 'This browser’s keyboard',
    about: 'Play with the keys of a keyboard or keypad, while this page is in front.',
    detail: () => 'Keys · browser',
    start: (name) => ({ kind: 'keys-browser', name }),
  },
  'keys-inside': {
    words: 'Keys to a stand-in',
    about: 'A simulated program that is controlled by keys.',
    detail: () => 'Keys · stand-in',
    start: (name) => ({ kind: 'keys-inside', name, port: 'Quay stream' }),
  },
};

export const KIND_NAMES = Object.keys(KINDS) as LineKind[];

export function lineKindWords(line: Line): string {
  return (KINDS[line.kind].detail as (line: Line) => string)(line);
}

/** Returns the protocol of a line; null for no line. */
export const protocolOf = (line: Line | undefined): Protocol | null => (line ? CARRIES[line.kind] : null);
