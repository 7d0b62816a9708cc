/** What moments name and the show keeps: looks, groups and MIDI files; and moments that act on moments. In the engine's own time. */
import { describe, expect, test } from '@jest/globals';
import { write, type AnyEvent } from 'midifile-ts';
import { LASER, LINES, RIG, said, show, until, createEngine, type Engine } from '../engine.test-helper.js';
import { writeMidiFile } from '../midi/file.js';
import { base64Of } from '../base64.js';
import { midiFileSchema, type MidiFileRow } from '../show/midi-file.js';
import {
  makeMoment,
  makeMomentSend,
  momentSchema,
  type Moment,
  type MomentSend,
  type MomentSendOf,
} from '../show/moment.js';
import { makeSend, type SendOf } from '../sends.js';
import type { Show } from '../show.js';
import { ringOf } from './rings.js';

const moment = (cue: string, sends: MomentSend[], more: Partial<Moment> = {}): Moment =>
  makeMoment({ id: `m${cue}`, cue, name: `Moment ${cue}`, sends, ...more });

const showOf = (moments: Moment[], more: Partial<Show>): Show =>
  show([], (made) => Object.assign(made, more, { moments, settings: { ...made.settings, guardMs: 0 } }));

function running(moments: Moment[], more: Partial<Show> = {}): Engine {
  const engine = createEngine();
  engine.load(showOf(moments, more), LINES, 0);
  return engine;
}
const go = (engine: Engine, now: number): string[] => said(engine.order({ do: 'go' }, now));

const acting = (act: SendOf<'call'>['act'], momentId: string | null, delayMs = 0): MomentSend =>
  makeMomentSend({
    kind: 'send',
    send: makeSend({ kind: 'call', lineId: null, momentId, act, delayMs }),
    value: 1,
  });

/** Two notes of a beat each, the second one at half the tempo, written by an independent package. */
function bells(): MidiFileRow {
  const meta = (subtype: string, more: object): AnyEvent =>
    ({ deltaTime: 0, type: 'meta', subtype, ...more }) as AnyEvent;
  const note = (deltaTime: number, subtype: 'noteOn' | 'noteOff', noteNumber: number): AnyEvent =>
    ({ deltaTime, type: 'channel', subtype, channel: 5, noteNumber, velocity: 90 }) as AnyEvent;
  const tracks: AnyEvent[][] = [
    [
      meta('setTempo', { microsecondsPerBeat: 500_000 }),
      { ...meta('setTempo', { microsecondsPerBeat: 1_000_000 }), deltaTime: 480 },
      meta('endOfTrack', {}),
    ],
    [
      note(0, 'noteOn', 60),
      note(480, 'noteOff', 60),
      note(0, 'noteOn', 62),
      note(480, 'noteOff', 62),
      meta('endOfTrack', {}),
    ],
    [note(0, 'noteOn', 72), note(960, 'noteOff', 72), meta('endOfTrack', {})],
  ];
  return midiFileSchema.parse({ id: 'bells', name: 'Harbour bells', data: base64Of(write(tracks, 480)) });
}

const playing = (more: Partial<MomentSendOf<'file'>> = {}): MomentSend =>
  makeMomentSend({ kind: 'file', lineId: 'laser', fileId: 'bells', tracks: [1], ...more });

/** Without its time. */
const untimed = (lines: string[]): string[] => lines.map((line) => line.replace(/^\d+: /, ''));

// Published: Standard MIDI Files 1.0, "Set Tempo": a tempo holds from its tick on. 120 beats a minute are 500 ms a beat, 60 are 1000.
// Library: the file is written by midifile-ts.
describe('a MIDI file in a cell', () => {
  const midiFiles = [bells()];

  test('plays its events at their times, through its change of tempo, and then has ended', () => {
    const engine = running([moment('1', [playing()])], { midiFiles });
    expect(go(engine, 0)).toEqual(['note 60 (C4) ch 6 pressed, force 90']);
    expect(until(engine, 10_000)).toEqual([
      '500: note 60 (C4) ch 6 released',
      '500: note 62 (D4) ch 6 pressed, force 90',
      '1500: note 62 (D4) ch 6 released',
    ]);
    expect(engine.orderState().running).toEqual([]);
  });

  test('plays all its tracks, or at a tempo of ours, in proportion', () => {
    const engine = running([moment('1', [playing({ tracks: 'all', bpm: 240 })])], { midiFiles });
    expect(go(engine, 0)).toHaveLength(2);
    expect(until(engine, 10_000).map((words) => words.split(':')[0])).toEqual(['250', '250', '750', '750']);
  });

  test('plays as often as asked', () => {
    const engine = running([moment('1', [playing({ times: 3 })])], { midiFiles });
    go(engine, 0);
    const presses = until(engine, 60_000).filter((words) => words.includes('60 (C4) ch 6 pressed'));
    expect(presses).toEqual([
      '1500: note 60 (C4) ch 6 pressed, force 90',
      '3000: note 60 (C4) ch 6 pressed, force 90',
    ]);
    expect(engine.orderState().running).toEqual([]);
  });

  test('plays until a later moment stops it, and nothing of it sounds on', () => {
    const moments = [moment('1', [playing({ times: 0 })]), moment('2', [acting('stop', 'm1')])];
    const engine = running(moments, { midiFiles });
    go(engine, 0);
    until(engine, 100_000);
    expect(engine.orderState().running).toMatchObject([{ id: 'm1', soundsOn: true }]);
    expect(go(engine, 100_700)).toEqual(['note 62 (D4) ch 6 released']);
    expect(until(engine, 1e6)).toEqual([]);
    expect(engine.orderState().running).toEqual([]);
  });

  test('stands still while the running order is held', () => {
    const engine = running([moment('1', [playing()])], { midiFiles });
    go(engine, 0);
    engine.order({ do: 'hold' }, 200);
    expect(until(engine, 5000)).toEqual([]);
    engine.order({ do: 'resume' }, 5200);
    expect(until(engine, 20_000)[0]).toBe('5500: note 60 (C4) ch 6 released');
  });

  // SMF 1.0, "Running status": a note on takes three bytes with its time.
  test('with more messages than can be read in passing is refused', () => {
    const fileOf = (notes: number): string => {
      const track = [
        0,
        0x90,
        60,
        1,
        ...Array.from({ length: notes - 1 }, () => [0, 60, 1]).flat(),
        0,
        0xff,
        0x2f,
        0,
      ];
      const head = [0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, 0, 96, 0x4d, 0x54, 0x72, 0x6b];
      const length = [24, 16, 8, 0].map((shift) => (track.length >> shift) & 0xff);
      return base64Of(Uint8Array.from([...head, ...length, ...track]));
    };
    const parse = (data: string) => midiFileSchema.safeParse({ id: 'b', name: 'Many bells', data });
    expect(parse(fileOf(100_000)).success).toBe(true);
    expect(parse(fileOf(100_001)).error?.issues.map(({ message }) => message)).toEqual([
      'A MIDI file has at most 100000 messages here. Split it into several.',
    ]);
    expect(parse('A'.repeat(1e6)).error?.issues.map(({ message }) => message)).toEqual([
      'A MIDI file has at most 512 KB here.',
    ]);
  });

  test('one that breaks off is refused, with its reason', () => {
    const [{ data }] = [bells()];
    const broken = base64Of(Uint8Array.from(atob(data), (char) => char.charCodeAt(0)).subarray(0, 60));
    const read = midiFileSchema.safeParse({ id: 'b', name: 'Broken', data: broken });
    expect(read.error?.issues[0]?.message).toContain('breaks off');
    expect(midiFileSchema.safeParse({ id: 'b', name: 'None', data: '%%' }).error?.issues[0]?.message).toBe(
      'The bytes of the file are no base64.',
    );
  });

  test('jumping past it sends the controllers that it leaves behind, and none of its notes', () => {
    const data = writeMidiFile(
      [
        {
          name: 'swell',
          events: [
            { tick: 0, signal: { kind: 'controlChange', channel: 5, number: 7, value: 20 } },
            { tick: 10, signal: { kind: 'noteOn', channel: 5, number: 60, value: 90 } },
            { tick: 20, signal: { kind: 'controlChange', channel: 5, number: 7, value: 99 } },
            { tick: 30, signal: { kind: 'noteOff', channel: 5, number: 60, value: 0 } },
          ],
        },
      ],
      120,
    );
    const swell = { id: 'bells', name: 'Swell', data: base64Of(data) };
    const engine = running([moment('1', [playing({ tracks: 'all' })]), moment('2', [])], {
      midiFiles: [swell],
    });
    expect(said(engine.order({ do: 'standBy', id: 'm2', catchUp: true }, 0))).toEqual(['CC 7 ch 6 = 99']);
  });
});

test('a controller that a file sets takes over from one that is on its way, and a note with its number does not', () => {
  const fileOf = (kind: 'controlChange' | 'noteOn'): MidiFileRow => ({
    id: 'bells',
    name: 'Swell',
    data: base64Of(
      writeMidiFile(
        [{ name: 'swell', events: [{ tick: 0, signal: { kind, channel: 5, number: 7, value: 99 } }] }],
        120,
      ),
    ),
  });
  const ramp = makeMomentSend({
    kind: 'send',
    send: makeSend({ kind: 'control', lineId: 'laser', channel: 5, number: 7 }),
    value: 40,
    fadeMs: 1000,
  });
  const values = (kind: 'controlChange' | 'noteOn'): string[] => {
    const engine = running([moment('1', [ramp]), moment('2', [playing({ tracks: 'all' })])], {
      midiFiles: [fileOf(kind)],
    });
    go(engine, 0);
    until(engine, 500);
    return [...go(engine, 500), ...until(engine, 2000)].filter((line) => line.includes('CC 7 '));
  };
  expect(values('controlChange')).toEqual(['CC 7 ch 6 = 99']);
  expect(values('noteOn').at(-1)).toBe('1000: CC 7 ch 6 = 40');
});

describe('looks and groups', () => {
  const groups = [{ id: 'deck', name: 'Deck', slots: [[1, 2] as [number, number]] }];
  const looks = [
    {
      id: 'warm',
      name: 'Warm',
      levels: [
        { groupId: 'deck', level: 200 },
        { slots: [2, 2] as [number, number], level: 10 },
      ],
    },
  ];
  const look = (fadeMs = 0): MomentSend =>
    makeMomentSend({ kind: 'look', lineId: 'rig', lookId: 'warm', fadeMs });

  test('a look is the levels that the show keeps under its name, the later of two first', () => {
    const engine = running([moment('1', [look()])], { groups, looks });
    expect(go(engine, 0)).toEqual(['slot 1 = 200 (78 %)', 'slot 2 = 10 (4 %)']);
  });

  test('a look that is changed is other the next time, and what is running goes on', () => {
    const moments = [moment('1', [look(1000)])];
    const engine = running(moments, { groups, looks });
    go(engine, 0);
    engine.loadMoments(showOf(moments, { groups: [{ ...groups[0]!, slots: [[7, 7]] }], looks }), 500);
    expect(untimed(until(engine, 1000))).toContain('slot 1 = 200 (78 %)');
    expect(said(engine.order({ do: 'call', id: 'm1' }, 2000))).toEqual([]);
    expect(until(engine, 3000).at(-2)).toBe('3000: slot 7 = 200 (78 %)');
  });

  test('a look that names a group that is gone has the rest of its levels', () => {
    const engine = running([moment('1', [look()])], { looks });
    expect(go(engine, 0)).toEqual(['slot 2 = 10 (4 %)']);
  });

  test('what names something removed does the rest', () => {
    const engine = running([moment('1', [look(), acting('run', 'gone'), playing()])], { groups });
    expect(go(engine, 0)).toEqual([]);
    expect(engine.orderState().running).toEqual([]);
  });
});

describe('stop all in a time', () => {
  const levels = (slot: number, level: number, fadeMs = 0): MomentSend =>
    makeMomentSend({ kind: 'levels', lineId: 'rig', fadeMs, levels: [{ slots: [slot, slot], level }] });

  test('fades the lights that moments set, then releases what sounds', () => {
    const note = makeMomentSend({
      kind: 'send',
      send: makeSend({ kind: 'note', lineId: 'laser', channel: 5, number: 28 }),
      value: 90,
    });
    const engine = running([moment('1', [levels(1, 200), levels(2, 100, 8000), note])]);
    go(engine, 0);
    // A light that no moment set is left alone.
    engine.step(RIG, { kind: 'slot', slot: 9, level: 50 }, 1);
    until(engine, 1000);
    expect(said(engine.order({ do: 'stopAll', ms: 1000 }, 1000))).toEqual([]);
    const half = untimed(until(engine, 1500));
    expect(half.findLast((words) => words.startsWith('slot 1 '))).toBe('slot 1 = 100 (39 %)');
    const rest = untimed(until(engine, 20_000));
    expect(rest).toContain('slot 1 = 0 (0 %)');
    expect(rest).toContain('slot 2 = 0 (0 %)');
    expect(rest.some((words) => words.startsWith('slot 9'))).toBe(false);
    expect(rest).toContain('note 28 (E1) ch 6 released');
    expect(engine.orderState().running).toEqual([]);
    expect(engine.wakeAt()).toBe(Infinity);
  });

  test('is itself ended by Stop all, by Panic and by safe: no light goes on going out', () => {
    for (const end of [
      (engine: Engine) => engine.order({ do: 'stopAll', ms: 0 }, 500),
      (engine: Engine) => engine.panic(500),
      (engine: Engine) => engine.setArmed(false, 500),
    ]) {
      const engine = running([moment('1', [levels(1, 200)])]);
      go(engine, 0);
      engine.order({ do: 'stopAll', ms: 1000 }, 100);
      until(engine, 400);
      end(engine);
      expect(until(engine, 5000)).toEqual([]);
      expect(engine.wakeAt()).toBe(Infinity);
    }
  });

  test('leaves alone what is called meanwhile', () => {
    const engine = running([moment('1', [levels(1, 200)]), moment('2', [levels(1, 120, 2000)])]);
    go(engine, 0);
    engine.order({ do: 'stopAll', ms: 1000 }, 100);
    go(engine, 300);
    expect(until(engine, 5000).at(-1)).toBe('2300: slot 1 = 120 (47 %)');
  });
});

describe('moments that act on moments', () => {
  const glow = (slot: number, level: number): MomentSend =>
    makeMomentSend({ kind: 'levels', lineId: 'rig', levels: [{ slots: [slot, slot], level }] });

  test('run does what it does and leaves what stands by; call moves on from it', () => {
    const moments = [
      moment('1', [acting('run', 'm4')]),
      moment('2', [acting('call', 'm3', 500)]),
      moment('3', [glow(3, 3)]),
      moment('4', [glow(4, 4)]),
    ];
    const engine = running(moments);
    expect(go(engine, 0)).toEqual(['slot 4 = 4 (2 %)']);
    expect(engine.orderState().standingBy).toBe('m2');
    expect(go(engine, 1)).toEqual([]);
    expect(until(engine, 600)).toEqual(['501: slot 3 = 3 (1 %)']);
    expect(engine.orderState().standingBy).toBe('m4');
  });

  test('a ring without any time between is found, and if it is there, comes to an end', () => {
    const ring = [moment('1', [glow(1, 1), acting('run', 'm2')]), moment('2', [acting('run', 'm1')])];
    expect(ring.map((one) => ringOf(ring, one))).toEqual([1, 0]);
    expect(ringOf([ring[0]!, moment('2', [acting('run', 'm1', 10)])], ring[0]!)).toBe(-1);
    const engine = running(ring);
    expect(go(engine, 0).length).toBeLessThan(1000);
  });
});

describe('after a restart', () => {
  const rise = moment('1', [
    makeMomentSend({
      kind: 'levels',
      lineId: 'rig',
      fadeMs: 1000,
      levels: [{ slots: [1, 1], level: 200 }],
    }),
  ]);
  const before = new Uint8Array(512).fill(80, 0, 1);

  test('fades begin at the levels that there were', () => {
    const engine = running([rise]);
    engine.restoreLevels(RIG, before);
    expect(said(engine.restore({ standingBy: 'm1', called: null, finished: [] }, 0))).toEqual([]);
    go(engine, 0);
    const half = until(engine, 500);
    expect(half.at(-1)).toBe('500: slot 1 = 140 (55 %)');
  });

  test('fades that ran are at their ends, where the show chooses so', () => {
    const engine = running([rise]);
    engine.restoreLevels(RIG, before);
    expect(said(engine.restore({ standingBy: '', called: null, finished: ['m1'] }, 0))).toEqual([
      'slot 1 = 200 (78 %)',
    ]);
  });
});

test('the log is told who asked: a desk, a pad for Panic, and nobody where the show is made safe', () => {
  const engine = running([moment('1', [])]);
  engine.order({ do: 'go' }, 1, 'Front of house');
  engine.panic(2, 'Stage left');
  engine.setArmed(false, 3);
  expect(engine.orderEvents()).toEqual([
    { at: 1, what: 'called', id: 'm1', by: { of: 'desk', name: 'Front of house' } },
    { at: 2, what: 'panic', id: null, by: { of: 'desk', name: 'Stage left' } },
  ]);
  expect(engine.orderEvents()).toEqual([]);
});

test('a file of any events releases all that it pressed', () => {
  const engine = running([moment('1', [playing({ times: 2, tracks: 'all' })])], { midiFiles: [bells()] });
  const all = [...go(engine, 0), ...until(engine, 60_000)];
  expect(all.filter((words) => words.includes('pressed'))).toHaveLength(6);
  expect(all.filter((words) => words.includes('released'))).toHaveLength(6);
  expect(LASER).toBe(LINES.get('laser'));
  expect(momentSchema.safeParse({ ...moment('1', []), timecode: '25:00:00:00' }).success).toBe(false);
});
