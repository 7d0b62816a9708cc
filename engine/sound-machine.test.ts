/** The sound of the machine, played to a real sound system without a sound card and recorded from it; an independent package reads what was played. */
import { spawn } from 'node:child_process';
import { Writable } from 'node:stream';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { Decoder } from 'linear-timecode';
import { makeLine } from '@tawny-signal/core/show/line';
import type { Signal, TimecodeSignal } from '@tawny-signal/core/signal';
import { frameOf, partsOf } from '@tawny-signal/core/timecode/timecode';
import { until } from '../scripts/test-stage.js';
import type { LineDriver } from './drivers/driver.js';
import { openSoundMachine } from './drivers/sound-machine.js';
import { createPlayer } from './drivers/sound-player.js';
import {
  findSound,
  isDevice,
  SAMPLE_RATE,
  type Command,
  type Progress,
  type RunProgram,
  type SoundSystem,
} from './drivers/sound-programs.js';
import { createNullSink, SINK, SOURCE } from './null-sink.test-helper.js';
import { recorded, type Recorded } from './recorded.test-helper.js';

const ending: (() => void)[] = [];
afterEach(() => {
  for (const end of ending.splice(0).reverse()) end();
});

interface Opened extends Recorded {
  driver: LineDriver;
}

function open(given: { hears?: string; plays?: string; channel?: number }, system?: SoundSystem): Opened {
  const telling = recorded();
  const line = makeLine({ id: 'reel', kind: 'sound-machine', name: 'Reel', ...given });
  const driver = openSoundMachine(line, telling.listener, system ? () => Promise.resolve(system) : undefined);
  ending.push(() => void driver.close());
  return { driver, ...telling };
}

/** Sound breaks off where a machine has too much to do: it is waited for until so many frames of it follow each other. */
const SOUND_MS = 240_000;
const FRAMES = 10;
const HOUR = 3600 * 25;
const numbers = (heard: readonly Signal[]): number[] =>
  heard.map((signal) => frameOf(signal as TimecodeSignal, '25'));

/** Plays the position on a line from 01:00:00:00 on, as the engine would: each frame when it begins. */
function play(driver: LineDriver): { stop(): void } {
  const began = performance.now();
  const timer = setInterval(() => {
    const frame = HOUR + Math.floor(((performance.now() - began) * 25) / 1000);
    driver.send({ kind: 'timecode', ...partsOf(frame, '25'), code: 1, speed: 1 });
  }, 20);
  const stop = (): void => clearInterval(timer);
  ending.push(stop);
  return { stop };
}

/** The most frames in a row that follow each other. */
function longestRun(frames: readonly number[]): number {
  let run = 0;
  return frames.reduce((longest, frame, at) => {
    run = frame === frames[at - 1]! + 1 ? run + 1 : 1;
    return Math.max(longest, run);
  }, 0);
}

describe('with a sound system', () => {
  const sink = createNullSink();
  beforeAll(async () => {
    sink.start();
    await until(() => sink.isThere(), 'the sound system is there', 60_000);
  });
  afterAll(() => sink.stop());

  test(
    'one line hears what another one plays, and an independent package reads it',
    async () => {
      const listening = ['-d', SOURCE, '--format=s16le', `--rate=${SAMPLE_RATE}`, '--channels=1'];
      const tape = spawn('parec', listening, { env: { ...process.env } });
      ending.push(() => tape.kill());
      const theirs: number[] = [];
      const reader = new Decoder(SAMPLE_RATE);
      reader.on('frame', (frame) => {
        const [hours, minutes, seconds, frames] = frame.toString().split(/[:;]/).map(Number) as number[];
        theirs.push(((hours! * 60 + minutes!) * 60 + seconds!) * 25 + frames!);
      });
      tape.stdout.on('data', (bytes: Buffer) => {
        const count = bytes.length >> 1;
        reader.decode(Float32Array.from({ length: count }, (_, at) => bytes.readInt16LE(at * 2) / 32_768));
      });
      const ears = open({ hears: SOURCE });
      const deck = open({ plays: SINK });
      await until(() => deck.state().state === 'open' && ears.state().state === 'open', 'both are open');
      expect(ears.state().sides).toEqual({ in: 'open', out: 'none' });
      expect(deck.state().sides).toEqual({ in: 'none', out: 'open' });
      const playing = play(deck.driver);
      await until(() => longestRun(numbers(ears.heard)) >= FRAMES, 'it is heard', SOUND_MS);
      await until(() => longestRun(theirs) >= FRAMES, 'the package reads it', SOUND_MS);
      await until(() => typeof ears.state().sound?.hearsDb === 'number', 'its level is told');
      expect(ears.state().sound!.devices.in).toContain(SOURCE);
      playing.stop();
      deck.driver.send({ kind: 'timecode', ...partsOf(HOUR, '25'), code: 1, speed: 0 });
      await until(() => ears.state().sound?.hearsDb === null, 'it is silent');
    },
    4 * SOUND_MS,
  );

  test.each(['KILL', 'STOP'])(
    'a program that gets SIG%s is started again, and goes on',
    async (signal) => {
      const ears = open({ hears: SOURCE });
      const deck = open({ plays: SINK });
      await until(() => deck.state().state === 'open' && ears.state().state === 'open', 'both are open');
      play(deck.driver);
      await until(() => longestRun(numbers(ears.heard)) >= FRAMES, 'it is heard', SOUND_MS);
      for (const program of ['parec', 'pacat']) {
        ears.heard.length = 0;
        const kill = spawn('pkill', [`-${signal}`, '-P', String(process.pid), '-x', program]);
        await new Promise((done) => kill.on('exit', done));
        const one = program === 'parec' ? ears : deck;
        await until(() => one.state().state === 'trouble', `${program} is missed`);
        expect(one.state().trouble).toMatch(/program for sound/);
        await until(() => one.state().state === 'open', `${program} is back`);
        ears.heard.length = 0;
        await until(() => longestRun(numbers(ears.heard)) >= FRAMES, 'it is heard again', SOUND_MS);
      }
    },
    4 * SOUND_MS,
  );

  test('a device that is not there is named, with those that are', async () => {
    const { state } = open({ hears: 'quay' });
    await until(() => state().state === 'trouble', 'it says so');
    expect(state().trouble).toBe(
      `PulseAudio here has no device to listen to called “quay”. There are: default, ${SOURCE}.`,
    );
    expect(state().nextTryAt).toBeGreaterThan(0);
  });
});

/** A made-up program in place of one of the system's: `script` runs in Node. */
const program = (script: string): Command => ({ program: process.execPath, args: ['-e', script] });
const made = (record: string, play = ''): SoundSystem => ({
  words: 'The harbour',
  devices: { in: ['mast'], out: ['mast'] },
  record: () => program(record),
  play: () => program(play),
  progress: () => ({ take: () => null, afterMs: 0 }),
});

describe('with made-up programs', () => {
  test('a device that another program uses is said, and tried again', async () => {
    const { state } = open(
      { hears: 'mast' },
      made('console.error("audio open error: Device or resource busy"); process.exit(1)'),
    );
    await until(() => state().state === 'trouble', 'it says so');
    expect(state().trouble).toBe('Another program uses the device. Close it there.');
  });

  test('a device that gives sound without end is no sound card', async () => {
    const flood = 'const b = Buffer.alloc(65536); (function go() { process.stdout.write(b, go); })()';
    const { state } = open({ hears: 'mast' }, made(flood));
    await until(() => /faster than it can be heard/.test(state().trouble), 'it is refused');
  });

  test('a line without a device asks for one', async () => {
    const { state } = open({}, made(''));
    await until(() => state().trouble !== '', 'it asks');
    expect(state().trouble).toMatch(/Write the device/);
  });
});

describe('what is given to a program that plays', () => {
  const PER_MS = (SAMPLE_RATE / 1000) * 4;
  let given = 0;
  let now = 0;
  const stdin = new Writable({
    write(bytes: Buffer, _, done) {
      given += bytes.length;
      done();
    },
  });
  /** Says how far it is as a plain number of ms. */
  const progress: Progress = { afterMs: 0, take: (said) => (Number(said) * SAMPLE_RATE) / 1000 };
  beforeEach(() => {
    jest.useFakeTimers();
    given = 0;
  });
  afterEach(() => void jest.useRealTimers());

  test('is 80 ms ahead of where it is, and no more while it stands', () => {
    const player = createPlayer(stdin, -18, progress);
    ending.push(() => player.stop());
    jest.advanceTimersByTime(10_000);
    expect(given / PER_MS).toBe(80);
    for (now = 10; now <= 1000; now += 10) {
      player.said(String(now), performance.now());
      jest.advanceTimersByTime(10);
    }
    expect(given / PER_MS).toBeGreaterThan(1060);
    expect(given / PER_MS).toBeLessThanOrEqual(1090);
  });

  test('goes on from where it ran dry after a stall, without playing what is late', () => {
    const player = createPlayer(stdin, -18, progress);
    ending.push(() => player.stop());
    player.said('10', performance.now());
    jest.advanceTimersByTime(1000);
    const before = given;
    // The engine was busy for two seconds.
    const late = performance.now() + 2000;
    const clock = jest.spyOn(performance, 'now').mockReturnValue(late);
    jest.advanceTimersByTime(10);
    clock.mockRestore();
    expect((given - before) / PER_MS).toBe(80);
  });
});

describe('finding the sound system', () => {
  const missing = Object.assign(new Error('spawn'), { code: 'ENOENT' });
  const only =
    (answers: Record<string, string>): RunProgram =>
    (name) =>
      name in answers ? Promise.resolve(answers[name]!) : Promise.reject(missing);

  test('takes ALSA where PulseAudio does not answer, and lists what is a device', async () => {
    const listed = 'null\n    Discard all samples\ndefault\nhw:CARD=Deck,DEV=0\n    Deck, USB Audio\n';
    const system = await findSound(only({ arecord: listed, aplay: listed }), 'linux');
    expect(system.words).toBe('ALSA');
    expect(system.devices.in).toEqual(['hw:CARD=Deck,DEV=0']);
    const { program: name, args } = system.record('hw:CARD=Deck,DEV=0', 2);
    expect([name, ...args].join(' ')).toMatch(
      /^arecord -q -t raw -f S16_LE -r 48000 -c 2 -D hw:CARD=Deck,DEV=0 /,
    );
  });

  test('says what to install, or that it works on Linux only', async () => {
    await expect(findSound(only({}), 'linux')).rejects.toThrow(
      /apt-get install pulseaudio-utils .* alsa-utils/,
    );
    await expect(findSound(only({}), 'darwin')).rejects.toThrow(/on Linux only/);
  });

  test('gives no instructions to ALSA in place of a device', () => {
    expect(isDevice('plughw:1,0', [])).toBe(true);
    expect(isDevice('quay', ['quay'])).toBe(true);
    expect(isDevice('file:/tmp/show,raw', [])).toBe(false);
    expect(isDevice('-D', [])).toBe(false);
  });

  test('reads how far a player is, wherever what it says is cut', async () => {
    const pulse = (await findSound(only({ pactl: '' }), 'linux')).progress();
    expect(pulse.take('Stream started.\nTime: 0.000 sec;')).toBeNull();
    expect(pulse.take('Time: 1.2')).toBeNull();
    expect(pulse.take('50 sec; Latency')).toBe(60_000);
    const alsa = (await findSound(only({ arecord: '', aplay: '' }), 'linux')).progress();
    expect(alsa.take('Playing raw data\n  period_si')).toBeNull();
    expect(alsa.take('ze  : 480\n')).toBeNull();
    expect(alsa.take('\r#+   | 00%\r#+  | 00%')).toBe(960);
  });
});
