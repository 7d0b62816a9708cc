/** Beats of marks: common practice, 104 beats a minute are 60,000 / 104 ms apart. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { tempoMarkSchema, type TempoMark } from '../show/tempo-mark.js';
import { writeTimecode } from '../timecode/timecode.js';
import { beatMs, beatNear, markAt, placeMarks, songBeatAtPlace, tempoOfMark } from './tempo-marks.js';
import { beatAt, songBeatAt } from './tempo.js';

const mark = (timecode: string, bpm: number, name = ''): TempoMark =>
  tempoMarkSchema.parse({ id: `${timecode} ${bpm}`, timecode, bpm, name });
const HOUR = 3_600_000;
/** Slack water at 104, two bars and a half later the fog at 63. */
const marks = placeMarks([mark('01:00:05:19', 63), mark('01:00:00:00', 104)], '25', 4);

describe('tempo marks', () => {
  test('count in the order of their places, and leave out what does not exist', () => {
    expect(marks.map(({ ms, bpm }) => [ms, bpm])).toEqual([
      [HOUR, 104],
      [HOUR + 5760, 63],
    ]);
    expect(placeMarks([mark('01:00:00:29', 90)], '25', 4)).toEqual([]);
    expect(placeMarks([mark('01:00:00:00', 90), mark('01:00:00:00', 91)], '25', 4)[0]!.bpm).toBe(91);
  });

  test('begin a bar each: one that is cut counts as a whole one', () => {
    // 5.76 s at 104 are 9.98 beats, so the third bar is cut.
    expect(marks.map(({ beat }) => beat)).toEqual([0, 12]);
    expect(songBeatAtPlace(marks, HOUR - 1)).toBeNull();
    expect(songBeatAtPlace(marks, HOUR + 5760)).toBe(12);
    expect(songBeatAtPlace(marks, HOUR + 5760 + 60_000 / 63)).toBeCloseTo(13, 9);
  });

  test('give the tempo at the speed of the position', () => {
    const motion = { ms: HOUR + 1000, at: 500, speed: 2 };
    const tempo = tempoOfMark(marks[0]!, motion, 500, 4);
    expect(tempo.bpm).toBe(208);
    expect(beatAt(tempo, 500)).toBeCloseTo(104 / 60, 9);
    expect(songBeatAt(tempoOfMark(marks[1]!, { ...motion, ms: HOUR + 5760 }, 500, 4), 500)).toBeCloseTo(
      12,
      9,
    );
  });

  test('name the nearest beat, the next and the one before', () => {
    const one = beatMs(marks[0]!);
    expect(beatNear(marks, HOUR + one * 2.4)).toBeCloseTo(HOUR + one * 2, 6);
    expect(beatNear(marks, HOUR + one * 2, 1)).toBeCloseTo(HOUR + one * 3, 6);
    expect(beatNear(marks, HOUR + one * 2, -1)).toBeCloseTo(HOUR + one, 6);
    // The beat of the next mark comes before the tenth of this one.
    expect(beatNear(marks, HOUR + one * 9, 1)).toBe(HOUR + 5760);
    expect(beatNear(marks, HOUR + 5760, -1)).toBeCloseTo(HOUR + one * 9, 6);
    expect(beatNear(marks, HOUR, -1)).toBeNull();
    expect(beatNear(marks, 0)).toBeNull();
    expect(beatNear(marks, 0, 1)).toBe(HOUR);
  });

  interface Row {
    frame: number;
    bpm: number;
  }

  function meetsEachBeatOnce(rows: readonly Row[], toBar: number): void {
    const placed = placeMarks(
      rows.map(({ frame, bpm }) => mark(writeTimecode(frame, '25'), bpm)),
      '25',
      toBar,
    );
    const steps: number[] = [placed[0]!.ms];
    for (let n = 0; n < 60; n++) steps.push(beatNear(placed, steps.at(-1)!, 1)!);
    for (let n = 1; n < steps.length; n++) {
      expect(steps[n]!).toBeGreaterThan(steps[n - 1]!);
      expect(beatNear(placed, steps[n]!, -1)!).toBeCloseTo(steps[n - 1]!, 3);
      expect(beatNear(placed, steps[n]!)).toBeCloseTo(steps[n]!, 3);
      const [before, here] = [steps[n - 1]!, steps[n]!].map((ms) => songBeatAtPlace(placed, ms)!);
      // They are at least a beat apart, but for rounding, so that no beat is met twice.
      expect(here! - before!).toBeGreaterThan(1 - 1e-6);
    }
    for (const [at, { ms, beat }] of placed.entries()) {
      expect(markAt(placed, ms)).toBe(at);
      expect(beat % toBar).toBe(0);
    }
  }

  test('of any song: steps forward and backward meet the same beats, each once', () => {
    const row = fc.record({ frame: fc.nat(3000), bpm: fc.integer({ min: 20, max: 400 }) });
    const rows = fc.array(row, { minLength: 1, maxLength: 6 });
    fc.assert(fc.property(rows, fc.integer({ min: 1, max: 7 }), meetsEachBeatOnce));
  });

  test('of a song whose last beat falls 0.14 ms before the next mark: it is met once', () => {
    // Found by the property above. 8720 ms at 289 beats a minute are 42.0007 beats.
    const rows = [
      { frame: 1291, bpm: 20 },
      { frame: 1073, bpm: 289 },
      { frame: 0, bpm: 20 },
    ];
    meetsEachBeatOnce(rows, 2);
  });
});
