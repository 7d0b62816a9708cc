/** Linear timecode in the sound of the browser: heard from a made-up microphone, and played to its loudspeaker. */
import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, test } from '@jest/globals';
import { Decoder } from 'linear-timecode';
import { By } from 'selenium-webdriver';
import WebSocket from 'ws';
import type { FromServer, OrderSeen } from '@tawny-signal/core/live/messages';
import type { Line } from '@tawny-signal/core/show/line';
import { positionAt, type Motion } from '@tawny-signal/core/time/position';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

/**
 * Keeps what every context of the page plays, in `recorded`, and what it hears, in `mic`: the last blocks, each with its time in the context in s, and
 * with what had to be added to that, when it came, to have the page's time in ms. The package below reads it. `told` are the frames that our own
 * processor reads of the same sound.
 */
const RECORDER = `(() => {
  window.recorded = [];
  window.recordedRate = 0;
  window.mic = null;
  const connect = AudioNode.prototype.connect;
  function tape(node, size, take) {
    const to = node.context.createScriptProcessor(size, 1, 1);
    to.onaudioprocess = ({ inputBuffer }) => take(inputBuffer.getChannelData(0));
    connect.call(node, to);
    connect.call(to, node.context.destination);
  }
  const PROCESSOR = \`registerProcessor('tape', class extends AudioWorkletProcessor {
    samples = [];
    process([[heard]]) {
      if (heard) this.samples.push(...heard);
      if (this.samples.length >= 2048)
        this.port.postMessage({ end: currentFrame + 128, samples: this.samples.splice(0) });
      return true;
    }
  })\`;
  async function hear(source, ours) {
    const mic = (window.mic = { blocks: [], told: [], rate: 0 });
    const { context } = source;
    await context.audioWorklet.addModule(URL.createObjectURL(new Blob([PROCESSOR], { type: 'text/javascript' })));
    const node = new AudioWorkletNode(context, 'tape');
    mic.rate = context.sampleRate;
    node.port.onmessage = ({ data: { end, samples } }) => {
      const addMs = performance.timeOrigin + performance.now() - (end / mic.rate) * 1000;
      // Sixteen bits in base64: some hundred kilobytes for what is kept, so that asking for it doesn’t hold the page up.
      const bytes = new Uint8Array(Int16Array.from(samples, (sample) => sample * 32767).buffer);
      const atS = (end - samples.length) / mic.rate;
      mic.blocks.push({ atS, addMs, samples: btoa(String.fromCharCode(...bytes)) });
      if (mic.blocks.length > 60) mic.blocks.shift();
    };
    ours.port.addEventListener('message', ({ data: { t, parts, atS } }) => {
      if (t !== 'frame') return;
      mic.told.push({ frame: ((parts.hours * 60 + parts.minutes) * 60 + parts.seconds) * 25 + parts.frames, atS });
      if (mic.told.length > 80) mic.told.shift();
    });
    connect.call(source, node);
    connect.call(node, context.destination);
  }
  AudioNode.prototype.connect = function (to, ...rest) {
    if (to instanceof AudioDestinationNode && this instanceof AudioWorkletNode) {
      window.recordedRate = this.context.sampleRate;
      tape(this, 16384, (samples) => {
        if (window.recorded.length < 100) window.recorded.push(Array.from(samples));
      });
    }
    if (this instanceof MediaStreamAudioSourceNode) void hear(this, to);
    return connect.call(this, to, ...rest);
  };
})()`;

/** Chromium's made-up microphone reads no samples of 24 bits. */
function sixteenBit(wav: Buffer): Buffer {
  const head = Buffer.from(wav.subarray(0, 44));
  const count = Math.floor((wav.length - 44) / 3);
  const out = Buffer.alloc(44 + count * 2);
  head.copy(out);
  out.writeUInt32LE(36 + count * 2, 4);
  out.writeUInt32LE(wav.readUInt32LE(24) * 2, 28);
  out.writeUInt16LE(2, 32);
  out.writeUInt16LE(16, 34);
  out.writeUInt32LE(count * 2, 40);
  for (let at = 0; at < count; at++) wav.copy(out, 44 + at * 2, 45 + at * 3, 47 + at * 3);
  return out;
}

const on = setup(async (stage) => {
  const made = await fetch(`${stage.address}api/ltc/file?from=01:00:03:00&to=01:00:33:00&rate=25`);
  const path = join(stage.state, 'microphone.wav');
  writeFileSync(path, sixteenBit(Buffer.from(await made.arrayBuffer())));
  return [
    '--use-fake-ui-for-media-stream',
    '--use-fake-device-for-media-stream',
    `--use-file-for-fake-audio-capture=${path}`,
    '--autoplay-policy=no-user-gesture-required',
  ];
});
beforeAll(() => on.before(RECORDER, true));

const call: typeof on.call = (...given) => on.call(...given);

/** `02:00:01:04` as a number of frames at 25 a second. */
function frameNumber(text: string): number {
  const [hours, minutes, seconds, frames] = text.split(/[:;]/).map(Number) as [
    number,
    number,
    number,
    number,
  ];
  return ((hours * 60 + minutes) * 60 + seconds) * 25 + frames;
}

interface Mic {
  /** Samples of 16 bits, the low byte first, in base64. */
  blocks: { atS: number; addMs: number; samples: string }[];
  told: HeardFrame[];
  rate: number;
}

interface HeardFrame {
  /** The number of the frame that began then. */
  frame: number;
  /** When, in s of the context. */
  atS: number;
}

/** The frames that a package reads which is not ours, each with when it began. It garbles one now and then. */
function heardElsewhere({ blocks, rate }: Mic): HeardFrame[] {
  const found: HeardFrame[] = [];
  let nowS = 0;
  function anew(): Decoder {
    const made = new Decoder(rate);
    // A frame is told when it is over: the next one begins.
    made.on('frame', (frame) => found.push({ frame: frameNumber(frame.toString()) + 1, atS: nowS }));
    return made;
  }
  let decoder = anew();
  const PIECE = 32;
  for (const { atS, samples } of blocks) {
    if (Math.abs(atS - nowS) > 0.001) decoder = anew();
    const bytes = Buffer.from(samples, 'base64');
    const count = bytes.length / 2;
    for (let at = 0; at < count; at += PIECE) {
      nowS = atS + (at + PIECE) / rate;
      const piece = Float32Array.from({ length: PIECE }, (_, n) => bytes.readInt16LE((at + n) * 2) / 32767);
      decoder.decode(piece);
    }
  }
  return found;
}

/**
 * The page's time in ms of an instant of the context. A block comes late and never early, so the least of those nearby is right; the context stands
 * still while the machine does not get to it, so those from long before or after are not.
 */
function pageTime(atS: number, adds: ReadonlyMap<number, number>): number {
  const nearby = [...adds].filter(([blockS]) => Math.abs(blockS - atS) < NEARBY_S);
  return atS * 1000 + Math.min(...nearby.map(([, addMs]) => addMs));
}
const NEARBY_S = 0.5;

/** @param part 0 for the least, 0.5 for the median, 1 for the most */
const quantile = (list: readonly number[], part: number): number =>
  list.toSorted((a, b) => a - b)[Math.floor(part * (list.length - 1))] ?? NaN;
const median = (list: readonly number[]): number => quantile(list, 0.5);

/** The frames from 02:00:00:00 on that a package reads which is not ours. */
function readElsewhere(blocks: readonly number[][], sampleRate: number): number[] {
  const theirs: string[] = [];
  const decoder = new Decoder(sampleRate);
  decoder.on('frame', (frame) => theirs.push(frame.toString()));
  for (const block of blocks) decoder.decode(Float32Array.from(block));
  return theirs.map(frameNumber).filter((number) => number >= 2 * 3600 * 25);
}

/** The most frames in a row that follow each other. */
function longestRun(frames: readonly number[]): number {
  let longest = 0;
  let run = 0;
  frames.forEach((frame, at) => {
    run = at > 0 && frame === frames[at - 1]! + 1 ? run + 1 : 1;
    longest = Math.max(longest, run);
  });
  return longest;
}

const HEARD = 'Fake Default Audio Input';
const PLAYED = 'Fake Default Audio Output';
let line: Line;
describe('timecode that the browser hears', () => {
  test('is switched on where its line is open, and its level is shown', async () => {
    line = await call<Line>('lines', 'POST', { kind: 'sound-browser', name: 'Reel', port: 'Device name' });
    await on.page.go(`lines/${line.id}`);
    await on.page.sees('No open browser tab has the sound of “Device name, channel 1” switched on.');
    await on.flip('Sound of this browser');
    await on.page.sees('It stays on when this page is opened again in this browser.');
    await on.page.choose('Device', HEARD);
    const level = By.css('[data-sound-level]');
    const heard = async (): Promise<string> => (await on.driver.findElement(level)).getText();
    await until(async () => / dB$/.test(await heard()), 'it is heard');
    await on.page.type('Channel', '40');
    expect(await on.page.problemAt('Channel')).toMatch(/1 to 32/);
  });

  test('is the position within a frame, and calls the moments within a frame of it', async () => {
    const motions: Motion[] = [];
    const live = new WebSocket(`ws://127.0.0.1:${on.stage.port}/live`);
    live.on('message', (data: Buffer, isBinary) => {
      if (isBinary) return;
      const message = JSON.parse(data.toString()) as FromServer;
      if (message.t === 'transport') motions.push(message.transport.position.motion);
      if (motions.length > 2000) motions.shift();
    });
    await call('time-sources', 'POST', { kind: 'ltc', lineId: line.id });
    await call('log/begin', 'POST', { name: 'A night by the reel' });
    await on.page.go('time');
    await until(
      async () =>
        (await on.driver.findElements(By.css('[data-source="Reel"][data-state="locked"]'))).length > 0,
      'it is locked',
    );
    await on.page.sees('Linear timecode · 25 fps');
    const positionBefore = (at: number): number | null => {
      const motion = motions.findLast((one) => one.at <= at);
      return motion ? positionAt(motion, at) : null;
    };
    // Many are measured, since a machine does not always get its time.
    const ENOUGH = { frames: 250, calls: 3 };
    // By the ms of the context, since a frame is heard by several looks.
    const heard = new Map<number, HeardFrame>();
    const told = new Map<number, HeardFrame>();
    const adds = new Map<number, number>();
    const calls = new Map<number, number>();
    const PLACES: Record<string, string> = {
      'house-to-half': '01:00:05:00',
      'slack-water': '01:00:15:00',
      'fog-bank': '01:00:30:00',
    };
    const offNow = (): number[] =>
      [...heard.values()].flatMap(({ frame, atS }) => {
        const there = positionBefore(pageTime(atS, adds));
        return there === null ? [] : [there - frame * 40];
      });
    /** Of each frame that the package reads, how far from it our own processor reads the same one, in ms of the sound itself. */
    const apart = (): number[] =>
      [...heard.values()].map(({ frame, atS }) =>
        Math.min(
          ...[...told.values()].flatMap((one) =>
            one.frame === frame ? [Math.abs(one.atS - atS) * 1000] : [],
          ),
        ),
      );
    /** How far the machine let its sound wander from its clock, in ms: no program could be nearer. */
    const wander = (): number => quantile([...adds.values()], 0.95) - quantile([...adds.values()], 0.05);
    const said = (): string =>
      `${heard.size} frames, ${median(apart())} ms apart in the sound by median; the position of ${offNow().length} off by ${median(offNow())} ms by median; ${calls.size} calls, late by ${median([...calls.values()])} ms by median; the sound wandered by ${wander()} ms`;
    await until(
      async () => {
        const mic = await on.driver.executeScript<Mic>('return window.mic');
        for (const { atS, addMs } of mic.blocks) adds.set(atS, addMs);
        for (const one of heardElsewhere(mic)) heard.set(Math.round(one.atS * 1000), one);
        for (const one of mic.told) told.set(Math.round(one.atS * 1000), one);
        const { lastCalls } = await call<OrderSeen>('desk/order');
        for (const { id, at } of lastCalls) {
          const then = positionBefore(at);
          if (then !== null && PLACES[id]) calls.set(at, then - frameNumber(PLACES[id]) * 40);
        }
        return heard.size >= ENOUGH.frames && calls.size >= ENOUGH.calls;
      },
      'enough frames and calls are measured',
      300_000,
    ).catch((error: unknown) => {
      throw new Error(`${String(error)}; this machine gave ${said()}`);
    });
    console.log(said());
    // A frame is 40 ms. In the sound itself nothing wanders; but the package garbles frames, and some are heard at the edge of what is kept.
    expect(median(apart())).toBeLessThan(5);
    expect(Math.abs(median(offNow()))).toBeLessThan(40 + wander());
    expect(Math.abs(median([...calls.values()]))).toBeLessThan(40 + wander());
    live.close();
    const called = async (): Promise<(string | undefined)[]> => {
      const { lastCalls } = await call<OrderSeen>('desk/order');
      return lastCalls.map(({ id }) => id);
    };
    for (const id of ['house-to-half', 'slack-water'])
      await until(async () => (await called()).includes(id), `${id} is called`);
  }, 450_000);
});

describe('timecode that the browser plays', () => {
  test('follows our own position, is read by another package, and falls silent when it stops', async () => {
    const out = await call<Line>('lines', 'POST', { kind: 'sound-browser', name: 'Tape', port: PLAYED });
    await call('time-outputs', 'POST', { kind: 'ltc', lineId: out.id });
    await call('desk/position', 'POST', { do: 'stop' });
    await on.page.go(`lines/${out.id}`);
    await on.page.sees('It stays on when this page is opened again in this browser.');
    await until(
      async () => (await on.driver.findElements(By.css('[data-sound-level]'))).length > 0,
      'the device is open',
    );
    await call('desk/position', 'POST', { do: 'playFrom', ms: 7_200_000 });
    // The recorder runs beside the page, and may lose a block on a busy machine: a second that is whole is waited for.
    const isLong = 'return window.recorded.length >= 10';
    await until(async () => {
      await on.driver.executeScript('window.recorded.length = 0');
      await until(() => on.driver.executeScript<boolean>(isLong), 'some seconds are recorded');
      const tape = await on.driver.executeScript<[number[][], number]>(
        'return [window.recorded.slice(0, 10), window.recordedRate]',
      );
      return longestRun(readElsewhere(...tape)) >= 25;
    }, 'the package reads frame after frame');
    await call('desk/position', 'POST', { do: 'stop' });
    await on.driver.executeScript('window.recorded.length = 0');
    const silent = `return window.recorded.length > 2 && window.recorded.slice(-1).flat().every((sample) => sample === 0)`;
    await until(() => on.driver.executeScript<boolean>(silent), 'it is silent');
  });
});

test('a file of linear timecode is read back, with its rate and its range', async () => {
  const made = await fetch(`${on.stage.address}api/ltc/file?from=01:00:00:00&to=01:00:20:00&rate=30`);
  const path = join(on.stage.state, 'made.wav');
  writeFileSync(path, Buffer.from(await made.arrayBuffer()));
  await on.page.go('time/ltc');
  await on.ready();
  await on.page.type('To', '00:59:00:00');
  await on.page.sees('It ends before it begins: write a timecode after 01:00:00:00.');
  const input = await on.driver.findElement(By.css('[aria-label="Read a file"] input[type="file"]'));
  await input.sendKeys(path);
  await until(
    async () => (await on.driver.findElements(By.css('[data-ltc-rate="30"]'))).length > 0,
    'it is read',
  );
  await on.page.sees('01:00:20:00');
  // The tide clock's is made by a package that is not ours.
  await on.page.go('stand-ins');
  await on.page.press('Write 20 s of sound');
  const written = join(on.stage.state, 'reel.wav');
  await until(() => existsSync(written), 'it is written');
  await on.page.sees('Linear timecode is in');
  await on.page.go('time/ltc');
  const again = await on.driver.findElement(By.css('[aria-label="Read a file"] input[type="file"]'));
  await again.sendKeys(written);
  await until(
    async () => (await on.driver.findElements(By.css('[data-ltc-rate="25"]'))).length > 0,
    'it is read too',
  );
  writeFileSync(path, 'This is a text.');
  await again.sendKeys(path);
  await on.page.sees('This is no WAV file. Choose one that ends with .wav.');
});
