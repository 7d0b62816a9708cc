/** Linear timecode in the sound of the browser: heard from a made-up microphone, and played to its loudspeaker. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, test } from '@jest/globals';
import { Decoder } from 'linear-timecode';
import { By } from 'selenium-webdriver';
import type { OrderSeen } from '@tawny-signal/core/live/messages';
import type { Line } from '@tawny-signal/core/show/line';
import type { Transport } from '@tawny-signal/core/time/transport';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

/** Keeps what every context of the page plays, in `recorded`. */
const RECORDER = `(() => {
  window.recorded = [];
  window.recordedRate = 0;
  const connect = AudioNode.prototype.connect;
  AudioNode.prototype.connect = function (to, ...rest) {
    if (to instanceof AudioDestinationNode && this instanceof AudioWorkletNode) {
      const tape = this.context.createScriptProcessor(16384, 1, 1);
      window.recordedRate = this.context.sampleRate;
      tape.onaudioprocess = ({ inputBuffer }) => {
        if (window.recorded.length < 100) window.recorded.push(Array.from(inputBuffer.getChannelData(0)));
      };
      connect.call(this, tape);
      connect.call(tape, to);
    }
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
beforeAll(() => on.before(RECORDER));

const call = async <T>(path: string, method = 'GET', body?: object): Promise<T> => {
  const answer = await fetch(`${on.stage.address}api/${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: body ? JSON.stringify(body) : null,
  });
  const text = await answer.text();
  return (text === '' ? null : JSON.parse(text)) as T;
};

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
const transport = (): Promise<Transport> =>
  call<Transport>('desk/position', 'POST', { do: 'calls', on: true });

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

  test('is the position, and calls the moments within two frames', async () => {
    await call('time-sources', 'POST', { kind: 'ltc', lineId: line.id });
    await call('log/begin', 'POST', { name: 'A night by the reel' });
    await on.page.go('time');
    await until(
      async () =>
        (await on.driver.findElements(By.css('[data-source="Reel"][data-state="locked"]'))).length > 0,
      'it is locked',
    );
    await on.page.sees('Linear timecode · 25 fps');
    const last = async (): Promise<OrderSeen['called']> => (await call<OrderSeen>('desk/order')).called;
    // The reel is played again and again: what is called after this comes from a run of it.
    await until(async () => (await last())?.id === 'house-to-half', 'House to half is called', 90_000);
    const { at } = (await last())!;
    const { position } = await transport();
    const then = position.motion.ms + (at - position.motion.at) * position.motion.speed;
    expect(Math.abs(then - 3_605_000)).toBeLessThan(80);
    await until(async () => (await last())?.id === 'slack-water', 'Slack water is called too', 30_000);
  });
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
