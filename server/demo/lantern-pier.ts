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
import type { Route } from '@tawny-signal/core/show/route';
import { tempoMarkSchema } from '@tawny-signal/core/show/tempo-mark';
import { timeOutputSchema, timeSourceSchema } from '@tawny-signal/core/time/ways';
import type { DemoPorts } from '../config.js';
import {
  BELLS,
  DECK,
  drum,
  fader,
  HOUSE,
  LASER,
  MOTION_IDS,
  moving,
  pad,
  PADS,
  RIG,
  SCORE,
  STREAM,
  TIDE,
  water,
  WATER,
} from './controls.js';
import { motions } from './motions.js';
import { LANTERN, moments, RIG_DECK, STROBES } from './moments.js';

const HERE = { host: '127.0.0.1' };

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

/** The same with one more send. */
const alsoSends = (made: Mapping, send: Send): Mapping => ({ ...made, sends: [...made.sends, send] });

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
      makeLine({ id: TIDE, kind: 'midi-inside', name: 'Tide clock', port: 'Tide clock' }),
      makeLine({
        id: HOUSE,
        kind: 'midi-network',
        name: 'Front of house',
        session: 'Lantern Pier stage',
        calls: [`127.0.0.1:${ports.house}`],
      }),
    ],
    timeSources: [
      timeSourceSchema.parse({ id: 'tide', kind: 'mtc', lineId: TIDE }),
      timeSourceSchema.parse({ id: 'drums', kind: 'clock', lineId: TIDE }),
    ],
    timeOutputs: [
      timeOutputSchema.parse({ id: 'time-to-water', kind: 'osc', lineId: WATER, perSecond: 10 }),
      timeOutputSchema.parse({ id: 'time-to-tide', kind: 'mtc', lineId: TIDE, frameRate: '30' }),
    ],
    tempoMarks: [
      tempoMarkSchema.parse({ id: 'tide-turns', name: 'Tide turns', timecode: '01:00:15:00', bpm: 63 }),
      tempoMarkSchema.parse({ id: 'storm', name: 'Storm', timecode: '01:00:49:24', bpm: 104 }),
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
      mapping('kick', 'Kick turns the lens', 'house', drum(36), moving(MOTION_IDS.lens, 'start')),
      mapping('rim', 'Rim turns it back', 'house', drum(37), moving(MOTION_IDS.lens, 'back')),
      alsoSends(
        mapping('cymbal', 'Cymbal changes the sky', 'house', drum(49), moving(MOTION_IDS.sky, 'next')),
        moving(MOTION_IDS.fog, 'start'),
      ),
      lit(mapping('scene-storm', 'Storm glass on or off', null, pad(39), bankOf('storm-glass')), {
        shows: 'bank',
        bankId: 'storm-glass',
      }),
    ],
    layouts: [padsLayout],
    moments,
    motions,
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
      route('score-to-house', 'midi', SCORE, HOUSE, {}),
    ],
  };
}
