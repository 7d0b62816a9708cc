/** The tempo: followed from MIDI clock, glided, and sent as MIDI clock (MIDI 1.0: 24 a quarter note). Instants are exact. */
import { describe, expect, test } from '@jest/globals';
import { at, timeStage, type TimeStage } from './engine-time.test-helper.js';
import { SCORE } from './engine.test-helper.js';
import { makeSend } from './sends.js';
import { makeMomentSend } from './show/moment.js';
import { timeOutputSchema, timeSourceSchema, type TimeOutput } from './time/ways.js';
import type { SystemSignal } from './signal.js';
import { CLOCK, CONTINUE, SONG_POSITION, START, STOP } from './time/clock-chase.js';
import { beatAt } from './time/tempo.js';

const DRUMS = timeSourceSchema.parse({ id: 'drums', lineId: 'score', kind: 'clock' });
const clockOut = (change: object = {}): TimeOutput =>
  timeOutputSchema.parse({ id: 'clock', kind: 'clock', lineId: 'laser', ...change });

const heard = (stage: TimeStage, status: number): void =>
  stage.give({ t: 'heard', line: SCORE, signal: { kind: 'system', status, data1: 0, data2: 0 } });
function playClock(stage: TimeStage, beats: number, bpm: number): void {
  for (let n = 0; n < beats * 24; n++) {
    stage.pass(60_000 / bpm / 24);
    heard(stage, CLOCK);
  }
}
const statuses = (stage: TimeStage): number[] =>
  stage.sent.flatMap(({ signal }) => (signal.kind === 'system' ? [signal.status] : []));
const clocks = (stage: TimeStage): number[] =>
  stage.sent.flatMap(({ signal, at: when }) =>
    signal.kind === 'system' && signal.status === CLOCK ? [when] : [],
  );
const bpm = (stage: TimeStage): number => stage.engine.tempo.tempo().bpm;

describe('a clock that is heard', () => {
  test('is the tempo of the show, with its beat', () => {
    const stage = timeStage([], {}, { sources: [DRUMS] });
    heard(stage, START);
    playClock(stage, 4, 118);
    expect(stage.engine.tempo.state()).toEqual({ counts: 'drums', chosen: 'auto' });
    expect(bpm(stage)).toBeCloseTo(118, 6);
    expect(beatAt(stage.engine.tempo.tempo(), stage.now())).toBeCloseTo(4 - 1 / 24, 6);
  });

  test('that stops leaves the tempo as it was', () => {
    const stage = timeStage([], {}, { sources: [DRUMS] });
    playClock(stage, 4, 63);
    stage.pass(5000);
    expect(stage.engine.tempo.state().counts).toBe('own');
    expect(bpm(stage)).toBeCloseTo(63, 6);
  });

  test('is overruled by a tempo that is typed, until it is followed again', () => {
    const stage = timeStage([], {}, { sources: [DRUMS] });
    playClock(stage, 4, 63);
    stage.give({ t: 'tempo', bpm: 100 });
    playClock(stage, 1, 63);
    expect(bpm(stage)).toBe(100);
    stage.give({ t: 'tempoSource', source: 'auto' });
    expect(bpm(stage)).toBeCloseTo(63, 6);
  });
});

describe('a show that is opened', () => {
  const nothing = { standingBy: null, called: null, finished: [], tempo: null, position: null };
  /** Opens a show with its tempo, as the server has it opened. */
  const open = (stage: TimeStage, tempo: number): void => {
    stage.load((made) => (made.settings = { ...made.settings, tempo }));
    stage.give({ t: 'restore', before: nothing });
  };

  test('brings its tempo, also where it is the one that the last show opened with', () => {
    const stage = timeStage([], {}, { sources: [DRUMS] });
    open(stage, 97);
    expect(bpm(stage)).toBe(97);
    stage.give({ t: 'tempo', bpm: 141 });
    open(stage, 63);
    expect(bpm(stage)).toBe(63);
    stage.give({ t: 'tempo', bpm: 141 });
    open(stage, 63);
    expect(bpm(stage)).toBe(63);
  });

  test('leaves the tempo to a clock that is heard', () => {
    const stage = timeStage([], {}, { sources: [DRUMS] });
    playClock(stage, 4, 118);
    open(stage, 63);
    expect(bpm(stage)).toBeCloseTo(118, 6);
    expect(stage.engine.tempo.state().counts).toBe('drums');
    playClock(stage, 4, 118);
    expect(bpm(stage)).toBeCloseTo(118, 6);
  });

  test('is edited without a change of the tempo that was typed', () => {
    const stage = timeStage([], {}, { sources: [DRUMS] });
    open(stage, 63);
    stage.give({ t: 'tempo', bpm: 141 });
    stage.load((made) => (made.settings = { ...made.settings, tempo: 63 }));
    expect(bpm(stage)).toBe(141);
  });
});

describe('a clock that is sent', () => {
  // A receiver counts them: 48 a second at 120 beats a minute.
  test.each([30, 76, 400, 2500])('leaves none out if the engine stands still for %d ms', (ms) => {
    const stage = timeStage([], {}, { outputs: [clockOut()] });
    stage.pass(1000);
    stage.stall(ms);
    stage.pass(1000);
    expect(clocks(stage)).toHaveLength(Math.floor(((2000 + ms) * 48) / 1000 + 1e-6) + 1);
  });

  // A receiver counts from the song position on, from the first clock after it continues (MIDI 1.0).
  test.each([120, 400, 2500])(
    'says its place if the engine stands still for %d ms, where the output is to do so',
    (ms) => {
      const stage = timeStage([], {}, { outputs: [clockOut({ behind: 'place' })] });
      stage.act({ do: 'playFrom', ms: 0 });
      stage.pass(1003);
      stage.stall(ms);
      stage.pass(1000);
      let clock = -1;
      let runs = false;
      const said: number[] = [];
      for (const { signal, at: when } of stage.sent) {
        if (signal.kind !== 'system') continue;
        const { status, data1, data2 } = signal;
        if (status === CLOCK && runs) clock++;
        if (status === SONG_POSITION) clock = ((data2 << 7) | data1) * 6 - 1;
        if (status !== CLOCK) runs = status === START || status === CONTINUE;
        if (status !== CLOCK) said.push(status);
        // Where it runs, it is never more than a clock away from the song, which has 48 a second.
        if (runs && status === CLOCK && said.length > 1)
          expect(Math.abs(clock - (when * 48) / 1000)).toBeLessThan(1.01);
      }
      expect(said).toEqual([START, STOP, SONG_POSITION, CONTINUE]);
      // It has run for almost all of the last second.
      expect(clock).toBeGreaterThan(((2003 + ms) * 48) / 1000 - 2);
    },
  );

  test('is counted anew at another tempo, and after the machine slept', () => {
    const stage = timeStage([], {}, { outputs: [clockOut()] });
    stage.pass(1000);
    stage.give({ t: 'tempo', bpm: 60 });
    stage.pass(1000);
    expect(clocks(stage).length).toBeLessThanOrEqual(49 + 25);
    const before = clocks(stage).length;
    stage.stall(3_600_000);
    stage.pass(10);
    expect(clocks(stage).length - before).toBeLessThan(4);
  });

  test('at 120 beats a minute comes each 20.833 ms, from the first beat on', () => {
    const stage = timeStage([], {}, { outputs: [clockOut()] });
    stage.pass(1000);
    const times = clocks(stage);
    expect(times).toHaveLength(49);
    times.forEach((when, n) => expect(when).toBeCloseTo((n * 1000) / 48, 6));
  });

  test('follows a change of the tempo at once, and keeps its count', () => {
    const stage = timeStage([], {}, { outputs: [clockOut()] });
    stage.pass(1010);
    stage.give({ t: 'tempo', bpm: 60 });
    stage.pass(1000);
    const times = clocks(stage);
    // What was left of a clock takes twice as long.
    expect(times[49]! - 1010).toBeCloseTo((49 * 20.8333333 - 1010) * 2, 3);
    expect(times[50]! - times[49]!).toBeCloseTo(1000 / 24, 6);
  });

  test('comes later or earlier by its offset', () => {
    const stage = timeStage([], {}, { outputs: [clockOut({ offsetMs: -4 })] });
    stage.pass(1000);
    expect(clocks(stage)[1]! % (1000 / 48)).toBeCloseTo(1000 / 48 - 4, 6);
  });

  test('does not drift, and gives on a clock that is heard', () => {
    const stage = timeStage([], {}, { sources: [DRUMS], outputs: [clockOut()] });
    playClock(stage, 200, 118);
    const times = clocks(stage);
    // Half a beat is heard before it is followed, at the tempo that the show opens with.
    expect(Math.abs(times.length - 200 * 24)).toBeLessThan(8);
    const last = times.slice(-48);
    for (let n = 1; n < last.length; n++) expect(last[n]! - last[n - 1]!).toBeCloseTo(60_000 / 118 / 24, 3);
  });

  test('starts, stops and says its place as the position does', () => {
    const stage = timeStage([], {}, { outputs: [clockOut()] });
    stage.act({ do: 'playFrom', ms: 0 });
    stage.pass(100);
    stage.act({ do: 'stop' });
    stage.act({ do: 'playFrom', ms: at('00:00:08:00') });
    const said = statuses(stage).filter((status) => status !== CLOCK);
    expect(said).toEqual([START, STOP, SONG_POSITION, CONTINUE]);
    // Eight seconds at 120 are 16 beats, which are 64 sixteenths.
    const place = stage.sent.find(
      ({ signal }) => signal.kind === 'system' && signal.status === SONG_POSITION,
    )!;
    const { data1, data2 } = place.signal as SystemSignal;
    expect((data2 << 7) | data1).toBe(64);
    const plain = timeStage([], {}, { outputs: [clockOut({ startStop: false })] });
    plain.act({ do: 'playFrom', ms: 0 });
    expect(statuses(plain).filter((status) => status !== CLOCK)).toEqual([]);
  });
});

describe('a tempo that is sent for', () => {
  const pass = (stage: TimeStage, beats: number, value: number): void => {
    const send = makeSend({ kind: 'tempo', lineId: null, beats });
    stage.give({
      t: 'order',
      act: { do: 'trySend', send: makeMomentSend({ kind: 'send', send, value }) },
      desk: '',
    });
  };

  test('is there at once', () => {
    const stage = timeStage([]);
    pass(stage, 0, 104);
    expect(bpm(stage)).toBe(104);
  });

  test('or after exactly so many beats', () => {
    const stage = timeStage([]);
    stage.pass(1000);
    const from = beatAt(stage.engine.tempo.tempo(), stage.now());
    pass(stage, 4, 60);
    // Four beats at 90 on average.
    stage.pass((4 * 60_000) / 90);
    expect(bpm(stage)).toBeCloseTo(60, 6);
    expect(beatAt(stage.engine.tempo.tempo(), stage.now()) - from).toBeCloseTo(4, 6);
  });

  test('beyond its limits is refused', () => {
    const stage = timeStage([]);
    pass(stage, 0, 1000);
    expect(bpm(stage)).toBe(120);
  });
});
