import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { Decoder } from 'linear-timecode';
import { createBells, readShowMessage, type ShowMessage } from './bell-player/bells.js';
import { createDesk } from './deck-desk/desk.js';
import { createLaser } from './fog-laser/laser.js';
import { createRig, type RigFrame } from './lantern-rig/rig.js';
import { readNote } from './live/midi.js';
import { createStream, readKey } from './quay-stream/stream.js';
import { createPlayer } from './score-player/player.js';
import { readScore, type Score } from './score-player/score.js';
import {
  createClock,
  createDrummer,
  createReader,
  createTempoReader,
  type Clock,
} from './tide-clock/clock.js';
import { makeReel, type Reel } from './tide-clock/reel.js';
import { firstScene, take, takeTime, understood } from './water-screen/scene.js';

describe('the tide clock', () => {
  /** Everything that it sends within some time, with its instant. */
  function played(clock: Clock, ms: number): { at: number; bytes: number[] }[] {
    const sent: { at: number; bytes: number[] }[] = [];
    for (let at = 0; at <= ms; at++) for (const bytes of clock.due(at)) sent.push({ at, bytes });
    return sent;
  }

  test('sends a hundred quarter frames a second at 25 frames, which its own reader understands', () => {
    const clock = createClock(() => 0);
    clock.start(0);
    const sent = played(clock, 1000);
    expect(sent).toHaveLength(101);
    expect(sent.every(({ bytes }) => bytes[0] === 0xf1 && bytes.length === 2)).toBe(true);
    const reader = createReader();
    for (const { bytes } of sent) expect(reader.hear(Uint8Array.from(bytes))).toBe(true);
    expect(reader.state).toEqual({ at: '01:00:01:00', rate: 25, count: 101 });
  });

  test('drops out, comes late, runs slow and at another speed on demand', () => {
    const clock = createClock(() => 1);
    clock.start(0);
    clock.gap(400, 0);
    expect(played(clock, 1000)[0]!.at).toBe(400);
    const late = createClock(() => 1);
    late.setJitter(9);
    late.start(0);
    expect(played(late, 100)[1]!.at).toBe(19);
    const slow = createClock(() => 0);
    slow.setSlow(true, 0);
    slow.start(0);
    expect(played(slow, 20_000)).toHaveLength(Math.floor(2000 / 1.001) + 1);
    const fast = createClock(() => 0);
    fast.setSpeed(4, 0);
    fast.start(0);
    expect(played(fast, 1000)).toHaveLength(401);
  });

  test('says where it stands when it is set and when it stops', () => {
    const clock = createClock(() => 0);
    const reader = createReader();
    for (const bytes of clock.locate('02:03:04:05', 0)) reader.hear(Uint8Array.from(bytes));
    expect(reader.state.at).toBe('02:03:04:05');
    expect(clock.stop()).toEqual([[0xf0, 0x7f, 0x7f, 1, 1, 0x22, 3, 4, 5, 0xf7]]);
    expect(reader.hear(Uint8Array.of(0x90, 60, 100))).toBe(false);
  });
});

describe('the sound of the tide clock', () => {
  const WELL: Reel = {
    from: '01:00:00:00',
    rate: '25',
    speed: 1,
    slow: false,
    jitterMs: 0,
    gapMs: 0,
    seconds: 20,
  };
  /** The frames that the package reads, as texts, and how long the sound is in s. */
  function read(change: Partial<Reel>, random = 0): { frames: string[]; seconds: number } {
    const wav = makeReel({ ...WELL, ...change }, () => random);
    const samples = new Float32Array((wav.length - 44) / 2).map(
      (_, at) => wav.readInt16LE(44 + at * 2) / 32_768,
    );
    const frames: string[] = [];
    const decoder = new Decoder(44_100);
    decoder.on('frame', (frame) => frames.push(frame.toString()));
    for (let at = 0; at < samples.length; at += 1024) decoder.decode(samples.subarray(at, at + 1024));
    return { frames, seconds: samples.length / wav.readUInt32LE(24) };
  }

  test('has the frames from where it stands on', () => {
    const { frames, seconds } = read({});
    expect(seconds).toBeCloseTo(20, 3);
    expect(frames.length).toBeGreaterThan(480);
    expect(frames).toContain('01:00:05:00');
    expect(frames).toContain('01:00:19:10');
  });

  test('leaves numbers out in drop-frame, runs slow, late and fast, and falls silent on demand', () => {
    const dropped = read({ rate: '29.97df', from: '01:00:55:00' }).frames;
    expect(dropped).toContain('01:01:00;02');
    expect(dropped).not.toContain('01:01:00;00');
    // A thousandth slower, one frame fewer begins in 40.04 s.
    expect(read({ slow: true, seconds: 40.04 }).frames).not.toContain('01:00:40:00');
    expect(read({ speed: 1.2 }).frames).toContain('01:00:22:00');
    expect(read({ jitterMs: 3 }, 0.5).frames).toContain('01:00:19:10');
    const gap = read({ gapMs: 2000 }).frames;
    expect(gap).not.toContain('01:00:10:00');
    expect(gap).toContain('01:00:15:00');
  });
});

describe('the MIDI clock of the tide clock', () => {
  test('has 24 clocks a beat, begins with a start, and is read as the tempo that it has', () => {
    const drummer = createDrummer(() => 0);
    expect(drummer.start(0)).toEqual([[0xfa]]);
    drummer.setTempo(120, 0);
    const reader = createTempoReader();
    let clocks = 0;
    for (let at = 0; at <= 2000; at++)
      for (const bytes of drummer.due(at)) {
        clocks++;
        expect(reader.hear(Uint8Array.from(bytes), at)).toBe(true);
      }
    expect(clocks).toBe(97);
    expect(reader.tempo(2000)).toBeCloseTo(120, 0);
    expect(reader.tempo(9000)).toBeNull();
    expect(reader.hear(Uint8Array.of(0xfe), 0)).toBe(false);
    expect(drummer.stop()).toEqual([[0xfc]]);
    expect(drummer.due(9000)).toEqual([]);
  });
});

describe('the water screen', () => {
  test('takes the time as a text, and leaves everything else', () => {
    const scene = firstScene();
    expect(takeTime(scene, '/time', [3600, '01:00:00:00'])).toBe(true);
    expect(takeTime(scene, '/tide/height', [0.5])).toBe(false);
    expect(scene).toEqual({ ...firstScene(), time: '01:00:00:00' });
  });

  test('understands each of its addresses, and says which it does not', () => {
    const scene = firstScene();
    for (const address of understood) expect(take(scene, address, [0.5])).toBe(true);
    expect(take(scene, '/new/address', [0.5])).toBe(false);
  });

  test('breaks the storm glass once for each message, with its force', () => {
    const scene = firstScene();
    take(scene, '/moment/storm/go', [0.25]);
    take(scene, '/moment/storm/go', []);
    expect(scene.storm).toEqual({ count: 2, force: 1 });
  });

  test('keeps what is out of range within it', () => {
    const scene = firstScene();
    take(scene, '/fog/density', [17]);
    take(scene, '/sky/hue', [-0.25]);
    take(scene, '/tide/height', [Number.NaN]);
    expect([scene.density, scene.hue, scene.tide]).toEqual([1, 0.75, 1]);
  });
});

const score: Score = {
  tempo: 120,
  durationMs: 2000,
  messages: [
    { atMs: 0, bytes: [0x92, 67, 90] },
    { atMs: 500, bytes: [0x82, 67, 64] },
    { atMs: 1000, bytes: [0x92, 72, 80] },
    { atMs: 1800, bytes: [0x92, 72, 0] },
  ],
};

describe('the score player', () => {
  test('sends each message when its time has come, and begins again at the end', () => {
    const player = createPlayer(score);
    expect(player.due(0)).toEqual([]);
    player.start(100);
    expect(player.due(100)).toEqual([[0x92, 67, 90]]);
    expect(player.due(599)).toEqual([]);
    expect(player.due(1100)).toEqual([
      [0x82, 67, 64],
      [0x92, 72, 80],
    ]);
    expect(player.due(2100)).toEqual([[0x92, 72, 0]]);
    expect(player.due(2101)).toEqual([[0x92, 67, 90]]);
  });

  test('played twice as fast takes half the time, from where it is', () => {
    const player = createPlayer(score);
    player.start(0);
    player.due(400);
    player.setTempo(240, 400);
    expect(player.due(449)).toEqual([]);
    expect(player.due(450)).toEqual([[0x82, 67, 64]]);
    expect(player.due(700)).toEqual([[0x92, 72, 80]]);
  });

  test('stopped in the middle of a note releases it, and starts from the beginning', () => {
    const player = createPlayer(score);
    player.start(0);
    player.due(1200);
    expect(player.stop(1300)).toEqual([[0x82, 72, 64]]);
    expect(player.due(5000)).toEqual([]);
    player.start(6000);
    expect(player.due(6000)).toEqual([[0x92, 67, 90]]);
  });

  test('plays the demo: every note that is pressed is released', () => {
    const demo = readScore(readFileSync(new URL('./score-player/lantern-pier.mid', import.meta.url)));
    const player = createPlayer(demo);
    player.start(0);
    const sent = player.due(demo.durationMs - 1);
    const pressed = sent.filter(([status, , velocity]) => (status! & 0xf0) === 0x90 && velocity! > 0);
    const releases = [
      ...sent.filter(([status]) => (status! & 0xf0) === 0x80),
      ...player.stop(demo.durationMs),
    ];
    expect(pressed.length).toBeGreaterThan(50);
    expect(releases.length).toBe(pressed.length);
  });
});

describe('the lantern rig', () => {
  const frame = (given: Partial<RigFrame>): RigFrame => ({
    protocol: 'sACN',
    universe: 7,
    source: 'Pier',
    priority: 100,
    sequence: 0,
    levels: Uint8Array.of(0, 255),
    ended: false,
    ...given,
  });

  test('shows the levels, who sends them, and how many a second', () => {
    const rig = createRig();
    for (let at = 0; at < 44; at++) rig.take(frame({ sequence: at }), at * 22);
    expect(rig.state(960)).toMatchObject({ source: 'Pier', framesPerSecond: 44, missed: 0, silent: false });
    expect(rig.state(960).levels.slice(0, 3)).toEqual([0, 255, 0]);
  });

  test('counts frames that never came, over the wrap of the sequence', () => {
    const rig = createRig();
    for (const sequence of [254, 255, 0, 3]) rig.take(frame({ sequence }), 0);
    expect(rig.state(0).missed).toBe(2);
    const artnet = createRig();
    for (const sequence of [254, 255, 1]) artnet.take(frame({ protocol: 'Art-Net', sequence }), 0);
    expect(artnet.state(0).missed).toBe(0);
  });

  test('says that its sender is silent, after a goodbye or 2.5 s of nothing, and keeps its lamps', () => {
    const rig = createRig();
    rig.take(frame({}), 0);
    expect([rig.state(2400).silent, rig.state(2600).silent]).toEqual([false, true]);
    rig.take(frame({ sequence: 1, levels: new Uint8Array(512), ended: true }), 3000);
    expect([rig.state(3000).silent, rig.state(3000).levels[1]]).toEqual([true, 255]);
  });
});

test('the fog laser holds a beam as long as a note of its channel', () => {
  const laser = createLaser();
  const take = (bytes: number[]): boolean => laser.take(readNote(Uint8Array.from(bytes))!);
  expect([take([0x95, 28, 90]), take([0x90, 28, 90])]).toEqual([true, false]);
  expect(laser.beams()).toEqual([{ number: 28, velocity: 90 }]);
  take([0x95, 28, 0]); // a press with velocity 0 is a release
  expect(laser.beams()).toEqual([]);
  expect(readNote(Uint8Array.of(0xb0, 1, 2))).toBeNull();
});

// RP-002, worked messages (from memory).
describe('the bell player', () => {
  const message = (...bytes: number[]): ShowMessage =>
    readShowMessage(Uint8Array.of(0xf0, 0x7f, ...bytes, 0xf7))!;

  test('reads a cue and its list', () => {
    expect(message(5, 2, 0x10, 1, 0x31, 0x32, 0x2e, 0x31, 0, 0x33)).toEqual({
      device: 5,
      format: 0x10,
      command: 1,
      cue: '12.1',
      list: '3',
    });
    expect(readShowMessage(Uint8Array.of(0xf0, 0x43, 0xf7))).toBeNull();
  });

  test('rings on go, stops on stop, and hears only what is for it', () => {
    const bells = createBells();
    const cue = (text: string): number[] => [...Buffer.from(text)];
    expect(bells.take(message(5, 2, 0x10, 1, ...cue('4')))).toBe(true);
    expect(bells.take(message(6, 2, 0x10, 1, ...cue('3')))).toBe(false);
    expect(bells.take(message(5, 2, 0x01, 1, ...cue('3')))).toBe(false);
    expect(bells.take(message(5, 2, 0x10, 1, ...cue('9')))).toBe(false);
    expect(bells.state().ringing).toEqual([false, false, false, true, false, false]);
    expect(bells.take(message(0x7f, 2, 0x7f, 2))).toBe(true);
    expect(bells.state()).toMatchObject({ ringing: Array(6).fill(false), rung: [0, 0, 0, 1, 0, 0] });
  });
});

test('the quay stream switches scenes, pans while a key is held, and writes a caption', () => {
  const stream = createStream();
  const key = (code: string, down: boolean, now: number): boolean => stream.take({ code, down }, now);
  expect(key('F2', true, 0)).toBe(true);
  key('F2', false, 10);
  for (const code of ['KeyH', 'Digit7', 'Space', 'KeyI', 'Backspace']) {
    key(code, true, 20);
    key(code, false, 20);
  }
  expect(stream.state(20)).toMatchObject({ scene: 'Lantern close', caption: 'H7 ', down: [] });
  key('ArrowRight', true, 1000);
  expect(stream.state(2000).pan).toBeCloseTo(0.4);
  key('ArrowRight', false, 2000);
  expect(stream.state(9000).pan).toBeCloseTo(0.4);
  expect(key('Tab', true, 9000)).toBe(false);
  expect(readKey(Uint8Array.of(1, ...Buffer.from('KeyG')))).toEqual({ code: 'KeyG', down: true });
  for (const bytes of [[], [2, 65], [1], [0, 0xff]]) expect(readKey(Uint8Array.from(bytes))).toBeNull();
});

test('dust in a fader of the deck desk wavers by one or two about where it stands, and only there', () => {
  const desk = createDesk();
  desk.set(0, 300);
  desk.set(11, 100);
  desk.set(99, 1);
  expect(desk.levels(0.99)).toEqual([255, ...Array<number>(10).fill(0), 100]);
  desk.dust(11);
  const seen = new Set([0, 0.2, 0.4, 0.6, 0.99].map((chance) => desk.levels(chance)[11]));
  expect([...seen]).toEqual([98, 99, 100, 101, 102]);
  desk.dust(null);
  expect(desk.levels(0)[11]).toBe(100);
});
