/** An engine that takes long to load is waited for, and one that hangs is not. No source: the bounds are our own. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { ROOT } from './build.js';
import { keepEngine } from './engine-process.js';
import { createPatience, FIRST_ROUNDS, MOST_ROUNDS, ROUNDS, type Watched } from './patience.js';

/** Rounds until it counts as hung. */
function roundsOf(watched: Watched): number {
  for (let rounds = 1; rounds <= 1000; rounds++) if (watched.round()) return rounds;
  return Infinity;
}

describe('patience', () => {
  test('gives an engine that is loading more rounds after each that was not loaded, up to a bound', () => {
    const patience = createPatience();
    const all = Array.from({ length: 7 }, () => roundsOf(patience.watch()) - 1);
    expect(all).toEqual([15, 30, 60, 120, 240, 300, 300]);
    expect([all[0], all.at(-1)]).toEqual([FIRST_ROUNDS, MOST_ROUNDS]);
  });

  test('is short with one that was loaded and is silent, from its last sign of life on', () => {
    const patience = createPatience();
    const watched = patience.watch();
    for (let round = 0; round < FIRST_ROUNDS; round++) expect(watched.round()).toBe(false);
    watched.heard();
    expect([watched.round(), watched.round()]).toEqual([false, false]);
    watched.heard();
    expect(roundsOf(watched)).toBe(ROUNDS + 1);
  });

  test('is as it was at first after an engine that was loaded', () => {
    const patience = createPatience();
    roundsOf(patience.watch());
    roundsOf(patience.watch());
    patience.watch().heard();
    expect(roundsOf(patience.watch())).toBe(FIRST_ROUNDS + 1);
  });
});

describe('an engine that takes longer to load than it is first waited for', () => {
  const folder = mkdtempSync(join(tmpdir(), 'tawny-patience-'));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  test('starts all the same, since the next one is waited for longer', async () => {
    const starts = join(folder, 'starts');
    const script = join(folder, 'engine.mjs');
    writeFileSync(
      script,
      `import { appendFileSync } from 'node:fs';
      appendFileSync(${JSON.stringify(starts)}, '.');
      process.on('SIGTERM', () => process.exit());
      setTimeout(() => {
        process.send({ t: 'listening' });
        setInterval(() => process.send({ t: 'alive' }), 5);
      }, 1500);`,
    );
    const deaths: string[] = [];
    const kept = keepEngine(
      { script: relative(ROOT, script), env: {}, log: join(folder, 'engine.log') },
      (how) => deaths.push(how),
      25,
    );
    try {
      await kept.listening;
      // 15 rounds are 375 ms: the first one can't be loaded within them, whatever the machine does.
      expect(deaths.length).toBeGreaterThan(0);
      expect(new Set(deaths)).toEqual(new Set(['SIGKILL']));
      expect(readFileSync(starts, 'utf8').length).toBeGreaterThan(1);
    } finally {
      await kept.stop();
    }
  }, 60_000);
});
