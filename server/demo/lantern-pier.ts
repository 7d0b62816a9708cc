/** The show that a first start opens: The Lantern Pier, a night show on an old harbour pier. */
import { ARTNET_PORT } from '@tawny-signal/core/dmx/artnet';
import { makeLine } from '@tawny-signal/core/show/line';
import { emptyShow, type Show } from '@tawny-signal/core/show';
import { SENDS, makeSend, type Send } from '@tawny-signal/core/sends';
import { newRoute } from '@tawny-signal/core/routes/words';
import { ALWAYS } from '@tawny-signal/core/show/when';
import { makeShape, type Shape } from '@tawny-signal/core/show/shape';
import type { Hear } from '@tawny-signal/core/hears';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import type { Answer } from '@tawny-signal/core/show/answer';
import type { Layout, LayoutControl } from '@tawny-signal/core/show/layout';
import { makeMoment, makeMomentSend, type Moment, type MomentSend } from '@tawny-signal/core/show/moment';
import type { Route } from '@tawny-signal/core/show/route';
import type { DemoPorts } from '../config.js';

const HERE = { host: '127.0.0.1' };
const PADS = 'pier-pads';
const SCORE = 'score-player';
const WATER = 'water-screen';
const RIG = 'lantern-rig';
const LASER = 'fog-laser';
const BELLS = 'bell-player';
const STREAM = 'quay-stream';
const DECK = 'deck-desk';

const pad = (number: number, message: 'pressed' | 'held' = 'pressed'): Hear => ({
  message,
  lineId: PADS,
  channels: [9, 9],
  numbers: [number, number],
  values: 'any',
});
const fader = (number: number): Hear => ({
  message: 'control',
  lineId: PADS,
  channels: [1, 1],
  numbers: [number, number],
  values: 'any',
});

const water = (address: string): Send =>
  makeSend({ kind: 'osc', lineId: WATER, address, args: [{ type: 'f', value: 'shaped' }] });
const slot = (number: number): Send => makeSend({ kind: 'slot', lineId: RIG, slot: number });
const key = (code: 'F1' | 'F2' | 'ArrowLeft' | 'ArrowRight'): Send =>
  makeSend({ kind: 'key', lineId: STREAM, code });

function mapping(
  id: string,
  name: string,
  bankId: string | null,
  hear: Hear,
  send: Send,
  shape: Partial<Shape> = {},
): Mapping {
  const whole = makeShape({ from: 'value', in: [0, 127], out: SENDS[send.kind].out, curve: 'straight' });
  return {
    id,
    name,
    on: true,
    bankId,
    hear,
    when: ALWAYS,
    shape: { ...whole, ...shape },
    sends: [send],
    answer: null,
  };
}

const bankOf = (bankId: string): Send => makeSend({ kind: 'bank', lineId: null, bankId, act: 'toggle' });

/** With the lamp of its pad. */
function lit(made: Mapping, change: Partial<Answer> = {}): Mapping {
  const number = 'numbers' in made.hear && made.hear.numbers !== 'any' ? made.hear.numbers[0] : 0;
  const answer: Answer = {
    lineId: PADS,
    kind: 'note',
    channel: 9,
    number,
    shows: 'value',
    bankId: null,
    on: 127,
    off: 0,
    blinkBeats: 0,
    ...change,
  };
  return { ...made, answer };
}

/** What the on-screen pads have on them. */
const padsLayout: Layout = {
  id: 'pier-pads',
  name: 'Pier pads',
  lineId: PADS,
  controls: [
    ...Array.from({ length: 16 }, (_, at): LayoutControl => ({
      id: `pad-${at + 1}`,
      name: `Pad ${at + 1}`,
      shape: 'pad',
      kind: 'note',
      channel: 9,
      number: 36 + at,
      x: at % 4,
      y: 3 - Math.floor(at / 4),
      width: 1,
      height: 1,
      lamp: { on: 127, off: 0 },
    })),
    ...Array.from({ length: 4 }, (_, at): LayoutControl => ({
      id: `fader-${at + 1}`,
      name: `Fader ${at + 1}`,
      shape: 'fader',
      kind: 'control',
      channel: 1,
      number: 21 + at,
      x: 4 + at,
      y: 0,
      width: 1,
      height: 4,
      lamp: null,
    })),
  ],
};

const RIG_DECK: [number, number] = [1, 12];
const STROBES: [number, number] = [40, 43];
const LANTERN: [number, number] = [101, 101];

const levels = (fadeMs: number, ...ranges: [slots: [number, number], level: number][]): MomentSend =>
  makeMomentSend({
    kind: 'levels',
    lineId: RIG,
    fadeMs,
    levels: ranges.map(([slots, level]) => ({ slots, level })),
  });
const sending = (send: Send, value: number, fadeMs = 0): MomentSend =>
  makeMomentSend({ kind: 'send', send, value, fadeMs });
const bells = (cue: string, delayMs = 0): MomentSend =>
  sending(
    makeSend({
      kind: 'showControl',
      lineId: BELLS,
      delayMs,
      device: 5,
      format: 0x10,
      command: 'go',
      cue,
      list: '',
    }),
    1,
  );
const laser = (number: number, value: number, lengthMs: number | null = null): MomentSend =>
  sending(makeSend({ kind: 'note', lineId: LASER, channel: 5, number, lengthMs }), value);
const scene = (code: 'F1' | 'F2' | 'F4'): MomentSend =>
  sending(makeSend({ kind: 'key', lineId: STREAM, code }), 1);

/** The six moments of the show. */
const moments: Moment[] = [
  makeMoment({
    id: 'house-to-half',
    cue: '1',
    name: 'House to half',
    notes: 'When the quay is quiet. Doors are closed.',
    sends: [levels(4000, [RIG_DECK, 128]), sending(water('/tide/height'), 0.2, 4000), scene('F1')],
  }),
  makeMoment({
    id: 'slack-water',
    cue: '2',
    name: 'Slack water',
    notes: 'With the first bell of the score.',
    sends: [levels(8000, [RIG_DECK, 64]), sending(water('/tide/height'), 0.6, 8000), bells('2')],
  }),
  makeMoment({
    id: 'fog-bank',
    cue: '3',
    name: 'Fog bank',
    sends: [
      levels(20_000, [LANTERN, 204]),
      sending(water('/fog/density'), 0.7, 20_000),
      bells('3'),
      laser(27, 90),
    ],
  }),
  makeMoment({
    id: 'storm-glass',
    cue: '4',
    name: 'Storm glass breaks',
    notes: 'On the glass, not before. Pad 16 calls it too.',
    callers: [pad(51)],
    sends: [
      levels(0, [STROBES, 255]),
      sending(water('/moment/storm/go'), 1),
      bells('4', 500),
      laser(28, 127, 2000),
      scene('F4'),
    ],
  }),
  makeMoment({
    id: 'blackout',
    cue: '4.5',
    name: 'Blackout',
    follow: { after: 'start', ms: 12_000 },
    sends: [
      levels(200, [RIG_DECK, 0], [STROBES, 0], [LANTERN, 0]),
      sending(water('/fog/density'), 0),
      laser(27, 0),
    ],
  }),
  makeMoment({
    id: 'lamp-lit',
    cue: '5',
    name: 'Lamp lit',
    notes: 'Hold until the applause has gone.',
    sends: [
      levels(30_000, [LANTERN, 255]),
      sending(water('/lantern/glow'), 1, 30_000),
      bells('5'),
      scene('F2'),
    ],
  }),
];

const route = (id: string, carries: Route['carries'], from: string, to: string, change: object): Route =>
  ({ ...newRoute(carries, from, to), id, ...change }) as Route;

/** @param ports UDP ports of the stand-ins. */
export function lanternPier(ports: DemoPorts): Show {
  return {
    ...emptyShow('The Lantern Pier'),
    lines: [
      makeLine({ id: PADS, kind: 'midi-inside', name: 'Pier pads', port: 'Pier pads' }),
      makeLine({ id: SCORE, kind: 'midi-inside', name: 'Score player', port: 'Score player' }),
      makeLine({
        id: WATER,
        kind: 'osc-udp',
        name: 'Water screen',
        ...HERE,
        port: ports.water,
        listenPort: null,
      }),
      makeLine({
        id: RIG,
        kind: 'sacn',
        name: 'Lantern rig',
        universe: 7,
        ...HERE,
        port: ports.rigSacn,
        listenPort: null,
      }),
      makeLine({ id: LASER, kind: 'midi-inside', name: 'Fog laser', port: 'Fog laser' }),
      makeLine({ id: BELLS, kind: 'midi-inside', name: 'Bell player', port: 'Bell player' }),
      makeLine({ id: STREAM, kind: 'keys-inside', name: 'Quay stream', port: 'Quay stream' }),
      makeLine({
        id: DECK,
        kind: 'artnet',
        name: 'Deck desk',
        universe: 0,
        host: null,
        port: ARTNET_PORT,
        listenPort: ports.deck,
      }),
    ],
    banks: [
      { id: 'house', name: 'House', on: true, group: '' },
      { id: 'storm-glass', name: 'Storm glass', on: true, group: '' },
    ],
    mappings: [
      mapping('storm-go', 'Storm glass breaks', 'storm-glass', pad(36), water('/moment/storm/go')),
      mapping('swell', 'Swell while held', 'storm-glass', pad(37, 'held'), water('/tide/swell')),
      lit(
        mapping('lamp', 'Lamp lit', 'house', pad(38, 'held'), water('/lantern/glow'), {
          curve: 'fast-start',
        }),
      ),
      mapping('fog', 'Fog bank', 'house', fader(21), water('/fog/density'), { curve: 'slow-start' }),
      mapping('sky', 'Colour of the sky', 'house', fader(22), water('/sky/hue'), { out: [0.45, 0.95] }),
      mapping(
        'bells',
        'Bell figure',
        'house',
        { message: 'pressed', lineId: SCORE, channels: [2, 2], numbers: [55, 79], values: 'any' },
        water('/bell/ripple'),
        { from: 'number', in: [55, 79] },
      ),
      mapping(
        'tide',
        'Score moves the tide',
        'house',
        { message: 'control', lineId: SCORE, channels: [0, 0], numbers: [1, 1], values: 'any' },
        water('/tide/height'),
      ),
      mapping('strobe', 'Storm strobe', 'storm-glass', pad(36, 'held'), slot(40)),
      mapping('lantern', 'Lantern level', 'house', fader(23), slot(101), { curve: 'slow-start' }),
      mapping(
        'beam',
        'Beam while held',
        'storm-glass',
        pad(40, 'held'),
        makeSend({ kind: 'note', lineId: LASER, channel: 5, number: 28 }),
      ),
      mapping(
        'bell-four',
        'Fourth bell',
        'storm-glass',
        pad(41),
        makeSend({
          kind: 'showControl',
          lineId: BELLS,
          device: 5,
          format: 0x10,
          command: 'go',
          cue: '4',
          list: '',
        }),
      ),
      mapping('scene-wide', 'Scene: wide pier', 'house', pad(42), key('F1')),
      mapping('scene-lantern', 'Scene: lantern close', 'house', pad(43), key('F2')),
      mapping('pan-left', 'Camera left while held', 'house', pad(44, 'held'), key('ArrowLeft')),
      mapping('pan-right', 'Camera right while held', 'house', pad(45, 'held'), key('ArrowRight')),
      lit(mapping('scene-storm', 'Storm glass on or off', null, pad(39), bankOf('storm-glass')), {
        shows: 'bank',
        bankId: 'storm-glass',
      }),
    ],
    layouts: [padsLayout],
    moments,
    groups: [
      { id: 'group-deck', name: 'Deck', slots: [RIG_DECK] },
      { id: 'group-strobes', name: 'Strobes', slots: [STROBES] },
      { id: 'group-lantern', name: 'Lantern', slots: [LANTERN] },
    ],
    looks: [
      {
        id: 'work-light',
        name: 'Work light',
        levels: [
          { groupId: 'group-deck', level: 255 },
          { groupId: 'group-lantern', level: 77 },
        ],
      },
    ],
    midiFiles: [],
    routes: [
      route('deck-to-rig', 'dmx', DECK, RIG, { slots: [1, 12] }),
      route('score-to-laser', 'midi', SCORE, LASER, {
        channels: [{ from: [2, 2], to: [5, 5] }],
        kinds: ['notes'],
        transpose: -36,
      }),
    ],
  };
}
