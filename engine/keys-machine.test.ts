// Published: W3C UI Events code values. Checked by a real window: xev, under a screen of its own (Xvfb), says which keysyms reach it.
import { execFile, spawn, type ChildProcess } from 'node:child_process';
import { afterAll, afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import { makeLine } from '@tawny-signal/core/show/line';
import { until } from '../scripts/test-stage.js';
import type { LineDriver } from './drivers/driver.js';
import { openKeysMachine, type RunTool } from './drivers/keys-machine.js';
import { recorded, type Recorded } from './recorded.test-helper.js';

const TITLE = 'Quay stream window';
let screen: ChildProcess;
let window: ChildProcess;
let display = '';
/** What the window heard, such as `down F4`. */
let heard: string[] = [];
const opened: LineDriver[] = [];

const onScreen: RunTool = (args) =>
  new Promise((done, fail) =>
    execFile('xdotool', args, { env: { ...process.env, DISPLAY: display } }, (error, stdout) =>
      error ? fail(error) : done(stdout),
    ),
  );

beforeAll(async () => {
  // -r: the X server does not repeat a key that is held for long, as on a busy machine.
  screen = spawn('Xvfb', ['-displayfd', '3', '-screen', '0', '640x480x24', '-nolisten', 'tcp', '-r'], {
    stdio: ['ignore', 'ignore', 'ignore', 'pipe'],
  });
  screen.stdio[3]!.on('data', (text: Buffer) => (display ||= `:${text.toString().trim()}`));
  await until(() => display !== '', 'the screen is there');
  window = spawn('xev', ['-event', 'keyboard', '-name', TITLE], {
    env: { ...process.env, DISPLAY: display },
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  let text = '';
  window.stdout!.on('data', (more: Buffer) => {
    text += more.toString();
    const events = [...text.matchAll(/Key(Press|Release) event[^]*?keysym 0x[0-9a-f]+, (\w+)\)/g)];
    heard = events.map(([, way, keysym]) => `${way === 'Press' ? 'down' : 'up'} ${keysym}`);
  });
  await until(
    () => onScreen(['search', '--name', TITLE, 'windowfocus']).then(() => true),
    'the window is in front',
  );
  await until(
    async () => (await onScreen(['getwindowfocus', 'getwindowname'])).trim() === TITLE,
    'it has the focus',
  );
});
afterAll(() => {
  window?.kill();
  screen?.kill();
});
afterEach(() => {
  for (const driver of opened.splice(0)) driver.close();
});

function open(
  given: { on?: boolean; windowTitle?: string },
  run: RunTool = onScreen,
  platform?: NodeJS.Platform,
): Recorded & { driver: LineDriver } {
  const telling = recorded();
  const line = makeLine({ id: 'keys', kind: 'keys-machine', name: 'Keys', on: true, ...given });
  const driver = openKeysMachine(line, telling.listener, run, platform);
  opened.push(driver);
  return { driver, ...telling };
}
const key = (code: string, down: boolean) => ({ kind: 'key', code, down }) as const;
const since = (from: number): string => heard.slice(from).join(', ');

describe('keys typed on this machine', () => {
  test('reach the window in front, down and up, in order', async () => {
    const from = heard.length;
    const { driver, state } = open({});
    await until(() => state().state === 'open', 'the tool is found');
    for (const code of ['F4', 'ArrowLeft', 'KeyG', 'NumpadEnter'])
      for (const down of [true, false]) expect(driver.send(key(code, down))).not.toBeNull();
    await until(() => heard.length === from + 8, 'all arrived');
    expect(since(from)).toBe('down F4, up F4, down Left, up Left, down g, up g, down KP_Enter, up KP_Enter');
  });

  test('are typed only while a window of that title is in front', async () => {
    const from = heard.length;
    const wrong = open({ windowTitle: 'Bell tower' });
    await until(() => wrong.state().state === 'open', 'the tool is found');
    wrong.driver.send(key('F1', true));
    await until(() => wrong.state().state === 'waiting', 'it says which window is in front');
    expect(wrong.state().trouble).toBe(
      `“${TITLE}” is in front, not one called “Bell tower”: nothing was typed.`,
    );
    const right = open({ windowTitle: 'quay STREAM' });
    await until(() => right.state().state === 'open', 'the tool is found');
    right.driver.send(key('F2', true));
    right.driver.send(key('F2', false));
    await until(() => heard.length >= from + 2, 'it arrived');
    expect(since(from)).toBe('down F2, up F2');
  });

  test('that are down come up when the line closes', async () => {
    const from = heard.length;
    const { driver, state } = open({});
    await until(() => state().state === 'open', 'the tool is found');
    driver.send(key('ArrowRight', true));
    await until(() => since(from).startsWith('down Right'), 'it is down');
    driver.close();
    await until(() => since(from) === 'down Right, up Right', 'it came up');
  });

  test('that are just being pressed when the line closes come up too, and none is pressed after', async () => {
    const typed: string[] = [];
    let finish = (): void => undefined;
    const slow: RunTool = async ([act = '', ...rest]) => {
      if (act === 'getwindowfocus') return TITLE;
      if (act.startsWith('key')) typed.push([act, ...rest].join(' '));
      if (act === 'keydown') await new Promise<void>((done) => (finish = done));
      return '';
    };
    const { driver, state } = open({ windowTitle: TITLE }, slow);
    await until(() => state().state === 'open', 'the tool is found');
    driver.send(key('F7', true));
    driver.send(key('F8', true));
    await until(() => typed.length === 1, 'the first is being pressed');
    driver.close();
    finish();
    await until(() => typed.length === 2, 'it comes up');
    expect(typed).toEqual(['keydown F7', 'keyup F7']);
  });

  test('are not typed before the line is switched on, and it says so', () => {
    const { driver, state } = open({ on: false });
    expect(driver.send(key('F1', true))).toBeNull();
    expect(state().trouble).toMatch(/^Switched off: no key is typed/);
  });

  test.each<[string, NodeJS.Platform, RegExp]>([
    ['ENOENT', 'linux', /sudo apt-get install xdotool/],
    ['ENOENT', 'darwin', /Linux under X only/],
  ])(
    'can’t be where the tool is missing (%s on %s), and it says what to do',
    async (code, platform, words) => {
      const failing: RunTool = () => Promise.reject(Object.assign(new Error('no tool'), { code }));
      const { state } = open({}, failing, platform);
      await until(() => state().state === 'trouble', 'it says so');
      expect(state().trouble).toMatch(words);
      expect(state().nextTryAt).toBeGreaterThan(Date.now());
    },
  );

  test('that an engine before this one pressed come up when this one is told so; those it could not press do not', async () => {
    const typed: string[] = [];
    let title = TITLE;
    const tool: RunTool = (args) => {
      if (args[0] === 'keydown' || args[0] === 'keyup') typed.push(args.join(' '));
      return Promise.resolve(args[0] === 'getwindowfocus' ? title : '');
    };
    const { driver, state } = open({ windowTitle: TITLE }, tool, 'linux');
    await until(() => state().state === 'open', 'it is open');
    driver.send(key('KeyG', false));
    await until(() => typed.length === 1, 'it comes up');
    title = 'Another window';
    driver.send(key('KeyH', true));
    driver.send(key('KeyH', false));
    driver.send(key('KeyJ', false));
    await until(() => typed.length === 2, 'the next one comes up');
    expect(typed).toEqual(['keyup g', 'keyup j']);
  });

  test('have come up when the closing of their line is done', async () => {
    const typed: string[] = [];
    const tool: RunTool = async (args) => {
      await new Promise((done) => setImmediate(done));
      if (args[0] === 'keydown' || args[0] === 'keyup') typed.push(args.join(' '));
      return '';
    };
    const { driver, state } = open({}, tool, 'linux');
    await until(() => state().state === 'open', 'it is open');
    driver.send(key('KeyG', true));
    driver.send(key('KeyH', true));
    await until(() => typed.length === 2, 'both are down');
    await driver.close();
    expect(typed.slice(2).sort()).toEqual(['keyup g', 'keyup h']);
  });
});
