/** MIDI files at play. What a note and the sustain pedal are is MIDI 1.0 (from memory); the rest is our own. */
import { beforeEach, describe, expect, test } from '@jest/globals';
import type { FileEvent } from '../midi/file.js';
import type { ChannelSignal } from '../signal.js';
import { createFilePlayer, type FilePlay, type FilePlayer } from './file-player.js';

let player: FilePlayer;
let clock: number;
let said: string[];
let ended: string[];
beforeEach(() => {
  clock = 0;
  said = [];
  ended = [];
  player = createFilePlayer((_play, signal) => {
    const what = signal.kind === 'sysex' ? signal.bytes.join(' ') : `${signal.number} ${signal.value}`;
    said.push(`${clock} ${signal.kind} ${what}`);
  });
});

const event = (atMs: number, kind: ChannelSignal['kind'], number: number, value = 0): FileEvent => ({
  atMs,
  track: 1,
  signal: { kind, channel: 0, number, value } as ChannelSignal,
});
const file = (events: FileEvent[], rest: Partial<FilePlay> = {}): FilePlay => ({
  lineId: 'bells',
  line: 0,
  muted: false,
  events,
  lengthMs: 100,
  times: 1,
  owner: 'a moment',
  because: 0,
  ended: () => ended.push(`${clock}`),
  ...rest,
});
/** Wakes as the engine does: when it is asked to. */
function until(end: number): void {
  for (let at = player.wakeAt(); at <= end; at = player.wakeAt()) {
    clock = at;
    player.wake(at);
  }
}
const NOTES = [event(0, 'noteOn', 60, 90), event(40, 'noteOff', 60), event(50, 'noteOn', 62, 80)];

describe('a file', () => {
  test('plays each event at its time, and what sounds at its end is released', () => {
    player.start(file(NOTES), 0);
    expect([said, player.wakeAt(), player.plays('a moment')]).toEqual([['0 noteOn 60 90'], 40, true]);
    until(1000);
    expect(said).toEqual(['0 noteOn 60 90', '40 noteOff 60 0', '50 noteOn 62 80', '100 noteOff 62 0']);
    expect([ended, player.plays('a moment'), player.wakeAt()]).toEqual([['100'], false, Infinity]);
    player.wake(5000);
    player.start(file([event(10, 'noteOn', 60, 90)], { owner: 'another' }), 5000);
    until(6000);
    expect(ended).toHaveLength(2);
  });

  test('is played so many times, each round a length after the one before, and ends then', () => {
    clock = 1000;
    player.start(file([event(10, 'noteOn', 60, 90)], { times: 3 }), 1000);
    until(5000);
    expect(said.filter((words) => words.includes('noteOn'))).toEqual([
      '1010 noteOn 60 90',
      '1110 noteOn 60 90',
      '1210 noteOn 60 90',
    ]);
    expect(ended).toEqual(['1300']);
  });

  test('is played until it is stopped where no number is given', () => {
    player.start(file([event(10, 'noteOn', 60, 90)], { times: 0 }), 0);
    until(1000);
    expect(said.filter((words) => words.includes('noteOn'))).toHaveLength(10);
    expect([ended, player.wakeAt()]).toEqual([[], 1010]);
  });

  test('goes on in its round after the engine slept: rounds that were missed are not played all at once', () => {
    player.start(file([event(10, 'noteOn', 60, 90)], { times: 0 }), 0);
    until(10);
    clock = 735;
    player.wake(735);
    // Round 7 began at 700; its note was due at 710.
    expect(said).toEqual(['10 noteOn 60 90', '735 noteOff 60 0', '735 noteOn 60 90']);
    expect(player.wakeAt()).toBe(800);
  });

  test('that ends while the engine slept through more rounds than it has is over', () => {
    player.start(file([event(10, 'noteOn', 60, 90)], { times: 3 }), 0);
    clock = 5000;
    player.wake(5000);
    expect([ended, player.wakeAt()]).toEqual([['5000'], Infinity]);
    expect(said.at(-1)).toBe('5000 noteOff 60 0');
  });

  test('that is shorter than 20 ms is played over each 20 ms', () => {
    player.start(file([event(0, 'noteOn', 60, 90)], { times: 0, lengthMs: 1 }), 0);
    until(50);
    expect(said.filter((words) => words.includes('noteOn'))).toEqual([
      '0 noteOn 60 90',
      '20 noteOn 60 90',
      '40 noteOn 60 90',
    ]);
  });

  test('with nothing in it is over at once', () => {
    player.start(file([]), 0);
    expect([ended, player.plays('a moment'), player.wakeAt()]).toEqual([['0'], false, Infinity]);
  });
});

describe('the sustain pedal', () => {
  test('that is down at the end comes up, and one that came up does not again', () => {
    player.start(file([event(0, 'controlChange', 64, 127), event(0, 'controlChange', 1, 99)]), 0);
    until(200);
    expect(said.slice(2)).toEqual(['100 controlChange 64 0']);
    said = [];
    clock = 300;
    player.start(file([event(0, 'controlChange', 64, 127), event(10, 'controlChange', 64, 0)]), 300);
    until(500);
    expect(said).toEqual(['300 controlChange 64 127', '310 controlChange 64 0']);
  });

  test('is another thing than pressure on note 64', () => {
    player.start(file([event(0, 'polyPressure', 64, 127)]), 0);
    until(1000);
    expect(said).toEqual(['0 polyPressure 64 127']);
  });

  test('is another thing than note 64', () => {
    player.start(
      file([event(0, 'noteOn', 64, 9), event(0, 'controlChange', 64, 127), event(5, 'noteOff', 64)]),
      0,
    );
    until(200);
    expect(said.slice(3)).toEqual(['100 controlChange 64 0']);
  });
});

test('those of an owner are stopped: what sounds of them is released, the others go on', () => {
  player.start(file(NOTES), 0);
  player.start(file([event(0, 'noteOn', 30, 9)], { owner: 'another' }), 0);
  said = [];
  clock = 20;
  player.stop((owner) => owner === 'a moment');
  expect([said, ended]).toEqual([['20 noteOff 60 0'], []]);
  expect([player.plays('a moment'), player.plays('another'), player.wakeAt()]).toEqual([false, true, 100]);
});

test('a system-exclusive message is played in its place, and nothing releases it', () => {
  const sysex: FileEvent = {
    atMs: 20,
    track: 1,
    signal: { kind: 'sysex', bytes: Uint8Array.of(0xf0, 0x7d, 5, 0xf7) },
  };
  player.start(file([event(0, 'noteOn', 60, 90), sysex, event(40, 'noteOff', 60)]), 0);
  for (clock = 0; clock <= 30; clock += 10) player.wake(clock);
  player.stop(() => true);
  expect(said).toEqual(['0 noteOn 60 90', '20 sysex 240 125 5 247', '40 noteOff 60 0']);
});
