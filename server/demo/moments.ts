/** The running order of the demo show. */
import { makeSend, type Send } from '@tawny-signal/core/sends';
import { makeMoment, makeMomentSend, type Moment, type MomentSend } from '@tawny-signal/core/show/moment';
import { BELLS, LASER, MOTION_IDS, moving, pad, RIG, STREAM, water } from './controls.js';

export const RIG_DECK: [number, number] = [1, 12];
export const STROBES: [number, number] = [40, 43];
export const LANTERN: [number, number] = [101, 101];

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
export const moments: Moment[] = [
  makeMoment({
    id: 'house-to-half',
    cue: '1',
    name: 'House to half',
    notes: 'When the quay is quiet. Doors are closed.',
    timecode: '01:00:05:00',
    sends: [levels(4000, [RIG_DECK, 128]), sending(water('/tide/height'), 0.2, 4000), scene('F1')],
  }),
  makeMoment({
    id: 'slack-water',
    cue: '2',
    name: 'Slack water',
    notes: 'With the first bell of the score.',
    timecode: '01:00:15:00',
    sends: [
      levels(8000, [RIG_DECK, 64]),
      sending(water('/tide/height'), 0.6, 8000),
      bells('2'),
      sending(moving(MOTION_IDS.swell, 'start'), 1),
    ],
  }),
  makeMoment({
    id: 'fog-bank',
    cue: '3',
    name: 'Fog bank',
    timecode: '01:00:30:00',
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
    timecode: '01:00:50:00',
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
    timecode: '01:00:58:00',
    sends: [
      levels(200, [RIG_DECK, 0], [STROBES, 0], [LANTERN, 0]),
      sending(water('/fog/density'), 0),
      laser(27, 0),
      sending(moving(MOTION_IDS.swell, 'stop'), 1),
    ],
  }),
  makeMoment({
    id: 'lamp-lit',
    cue: '5',
    name: 'Lamp lit',
    notes: 'Hold until the applause has gone.',
    timecode: '01:01:05:00',
    sends: [
      levels(30_000, [LANTERN, 255]),
      sending(water('/lantern/glow'), 1, 30_000),
      bells('5'),
      scene('F2'),
    ],
  }),
];
