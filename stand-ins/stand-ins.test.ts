import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { createPlayer } from './score-player/player.js';
import { readScore, type Score } from './score-player/score.js';
import { firstScene, take, understood } from './water-screen/scene.js';

describe('the water screen', () => {
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
