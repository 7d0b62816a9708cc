/** The tempo by marks along the position: a click made from timecode. MIDI 1.0: 24 clocks a quarter note; song position counts sixteenths. */
import { describe, expect, test } from '@jest/globals';
import { at, moment, timeStage, type TimeStage } from './engine-time.test-helper.js';
import { SCORE } from './engine.test-helper.js';
import { tempoMarkSchema } from './show/tempo-mark.js';
import { CLOCK, CONTINUE, SONG_POSITION, START, STOP } from './time/clock-chase.js';
import { beatAt, songBeatAt } from './time/tempo.js';
import { timeOutputSchema, timeSourceSchema } from './time/ways.js';

const VERSE = tempoMarkSchema.parse({ id: 'verse', timecode: '01:00:02:00', bpm: 104 });
const CHORUS = tempoMarkSchema.parse({ id: 'chorus', timecode: '01:00:06:00', bpm: 63 });
const CLOCK_OUT = timeOutputSchema.parse({ id: 'clock', kind: 'clock', lineId: 'laser' });
const DRUMS = timeSourceSchema.parse({ id: 'drums', lineId: 'score', kind: 'clock' });

function stageWith({
  sources = [] as (typeof DRUMS)[],
  moments = [] as ReturnType<typeof moment>[],
} = {}): TimeStage {
  const stage = timeStage(moments, {}, { sources: [...sources], outputs: [CLOCK_OUT] });
  stage.load((show) => {
    show.tempoMarks = [VERSE, CHORUS];
  });
  return stage;
}
const bpm = (stage: TimeStage): number => stage.engine.tempo.tempo().bpm;
const counts = (stage: TimeStage): string => stage.engine.tempo.state().counts;
/** When a place of the position was passed, in the time of the stage. */
const passedAt = (stage: TimeStage, timecode: string): number =>
  stage.now() - (stage.position() - at(timecode));
const clocks = (stage: TimeStage): number[] =>
  stage.sent.flatMap(({ signal, at: when }) =>
    signal.kind === 'system' && signal.status === CLOCK ? [when] : [],
  );
const others = (stage: TimeStage): [number, number][] =>
  stage.sent.flatMap(({ signal }): [number, number][] =>
    signal.kind === 'system' && [START, STOP, CONTINUE, SONG_POSITION].includes(signal.status)
      ? [[signal.status, signal.data1 | (signal.data2 << 7)]]
      : [],
  );

describe('the tempo along the position', () => {
  test('is that of the mark from its frame on, with a bar that begins there', () => {
    const stage = stageWith();
    stage.act({ do: 'playFrom', ms: at('01:00:00:00') });
    stage.pass(1000);
    expect([counts(stage), bpm(stage)]).toEqual(['own', 120]);
    stage.pass(1500);
    expect([counts(stage), bpm(stage)]).toEqual(['marks', 104]);
    const tempo = stage.engine.tempo.tempo();
    expect(songBeatAt(tempo, passedAt(stage, '01:00:02:00'))).toBeCloseTo(0, 6);
    stage.pass(4000);
    expect(bpm(stage)).toBe(63);
    // 4 s at 104 are 6.93 beats, so the chorus begins the third bar.
    expect(songBeatAt(stage.engine.tempo.tempo(), passedAt(stage, '01:00:06:00'))).toBeCloseTo(8, 6);
  });

  test('gives a click: 24 clocks a beat, the first at the mark', () => {
    const stage = stageWith();
    stage.act({ do: 'playFrom', ms: at('01:00:00:00') });
    stage.pass(5900);
    const began = passedAt(stage, '01:00:02:00');
    const after = clocks(stage).filter((when) => when > began - 0.01);
    expect(after.length).toBe(Math.floor((3900 * 104 * 24) / 60_000) + 1);
    after.forEach((when, n) => expect(when).toBeCloseTo(began + (n * 60_000) / 104 / 24, 3));
  });

  test('follows a source of timecode, whatever its speed', () => {
    const stage = timeStage([], {}, { outputs: [CLOCK_OUT] });
    stage.load((show) => {
      show.tempoMarks = [VERSE, CHORUS];
    });
    stage.play(at('01:00:01:00'), 4000, { speed: 1.1 });
    expect(counts(stage)).toBe('marks');
    expect(bpm(stage)).toBeCloseTo(114.4, 1);
    const tempo = stage.engine.tempo.tempo();
    const beats = ((stage.position() - at('01:00:02:00')) * 104) / 60_000;
    expect(songBeatAt(tempo, stage.now())).toBeCloseTo(beats, 2);
  });

  test('never jumps by a whole beat, so that what waits for one is not left behind', () => {
    const stage = stageWith();
    stage.act({ do: 'playFrom', ms: at('01:00:00:00') });
    let before = beatAt(stage.engine.tempo.tempo(), stage.now());
    for (let n = 0; n < 900; n++) {
      stage.pass(10);
      const here = beatAt(stage.engine.tempo.tempo(), stage.now());
      expect(Math.abs(here - before)).toBeLessThan(0.55);
      before = here;
    }
  });

  test('starts others in the middle of the song at the sixteenth of the place', () => {
    const stage = stageWith();
    stage.act({ do: 'locate', ms: at('01:00:07:00') });
    stage.sent.length = 0;
    stage.act({ do: 'play' });
    // Eight beats up to the chorus, and one second of it at 63.
    expect(others(stage)).toEqual([
      [SONG_POSITION, Math.floor((8 + 63 / 60) * 4)],
      [CONTINUE, 0],
    ]);
  });

  test('is shown while the position stands there, and its beat goes on', () => {
    const stage = stageWith();
    stage.act({ do: 'locate', ms: at('01:00:07:00') });
    expect([counts(stage), bpm(stage)]).toEqual(['marks', 63]);
    stage.act({ do: 'locate', ms: at('00:30:00:00') });
    expect([counts(stage), bpm(stage)]).toEqual(['own', 63]);
  });

  test('yields to a clock that is heard, and to a tempo that is typed', () => {
    const stage = stageWith({ sources: [DRUMS] });
    stage.act({ do: 'playFrom', ms: at('01:00:02:00') });
    expect(counts(stage)).toBe('marks');
    for (let n = 0; n < 48; n++) {
      stage.pass(60_000 / 118 / 24);
      stage.give({ t: 'heard', line: SCORE, signal: { kind: 'system', status: CLOCK, data1: 0, data2: 0 } });
    }
    expect(counts(stage)).toBe('drums');
    expect(bpm(stage)).toBeCloseTo(118, 6);
    stage.pass(3000);
    expect(counts(stage)).toBe('marks');
    stage.give({ t: 'tempo', bpm: 90 });
    stage.pass(3000);
    expect([counts(stage), bpm(stage)]).toEqual(['own', 90]);
    stage.give({ t: 'tempoSource', source: 'auto' });
    expect([counts(stage), bpm(stage)]).toEqual(['marks', 63]);
  });

  test('calls a moment on the bar of the mark', () => {
    const stage = stageWith({ moments: [moment('1', null, { callOn: 'bar' })] });
    stage.act({ do: 'playFrom', ms: at('01:00:02:00') + 100 });
    stage.give({ t: 'order', act: { do: 'call', id: 'm1' }, desk: '' });
    const bar = at('01:00:02:00') + (4 * 60_000) / 104;
    stage.pass(bar - stage.position() - 1);
    expect(stage.engine.orderState().called).toBeNull();
    stage.pass(2);
    expect(stage.engine.orderState().called?.id).toBe('m1');
  });

  test('stays as it is once its marks are gone', () => {
    const stage = stageWith();
    stage.act({ do: 'playFrom', ms: at('01:00:06:00') });
    stage.pass(500);
    stage.load((show) => {
      show.tempoMarks = [];
    });
    stage.pass(500);
    expect([counts(stage), bpm(stage)]).toEqual(['own', 63]);
  });
});
