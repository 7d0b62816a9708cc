/** The show that a first start opens: The Lantern Pier, a night show on an old harbour pier. */
import {
  emptyShow,
  type Hear,
  type Mapping,
  type OscArg,
  type Shape,
  type Show,
} from '@tawny-signal/core/show';

const FORCE: Shape = { from: 'value', in: [0, 127], out: [0, 1], curve: 'straight' };
const FLOAT: OscArg[] = [{ type: 'f', value: 'shaped' }];
const PADS = 'pier-pads';
const SCORE = 'score-player';
const WATER = 'water-screen';

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

function mapping(
  id: string,
  name: string,
  bankId: string | null,
  hear: Hear,
  address: string,
  shape: Partial<Shape> = {},
): Mapping {
  return {
    id,
    name,
    on: true,
    bankId,
    hear,
    shape: { ...FORCE, ...shape },
    send: { kind: 'osc', lineId: WATER, address, args: FLOAT },
  };
}

/** @param waterPort UDP port that the water screen listens on. */
export function lanternPier(waterPort: number): Show {
  return {
    ...emptyShow('The Lantern Pier'),
    lines: [
      { id: PADS, kind: 'midi-inside', name: 'Pier pads', port: 'Pier pads', muted: false },
      { id: SCORE, kind: 'midi-inside', name: 'Score player', port: 'Score player', muted: false },
      {
        id: WATER,
        kind: 'osc-udp',
        name: 'Water screen',
        host: '127.0.0.1',
        port: waterPort,
        listenPort: null,
        muted: false,
      },
    ],
    banks: [
      { id: 'house', name: 'House', on: true },
      { id: 'storm-glass', name: 'Storm glass', on: true },
    ],
    mappings: [
      mapping('storm-go', 'Storm glass breaks', 'storm-glass', pad(36), '/moment/storm/go'),
      mapping('swell', 'Swell while held', 'storm-glass', pad(37, 'held'), '/tide/swell'),
      mapping('lamp', 'Lamp lit', 'house', pad(38, 'held'), '/lantern/glow', { curve: 'fast-start' }),
      mapping('fog', 'Fog bank', 'house', fader(21), '/fog/density', { curve: 'slow-start' }),
      mapping('sky', 'Colour of the sky', 'house', fader(22), '/sky/hue', { out: [0.45, 0.95] }),
      mapping(
        'bells',
        'Bell figure',
        'house',
        { message: 'pressed', lineId: SCORE, channels: [2, 2], numbers: [55, 79], values: 'any' },
        '/bell/ripple',
        { from: 'number', in: [55, 79] },
      ),
      mapping(
        'tide',
        'Score moves the tide',
        'house',
        { message: 'control', lineId: SCORE, channels: [0, 0], numbers: [1, 1], values: 'any' },
        '/tide/height',
      ),
    ],
  };
}
