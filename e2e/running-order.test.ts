/**
 * The running order and the prompt desk: the demo's moments run, and what dies meanwhile. The tests go on from one another, in their order: each finds
 * the show as the one before left it, and one that fails may take those after it along.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import type { OrderSeen } from '@tawny-signal/core/live/messages';
import type { KeptLive } from '../engine/kept-state.js';
import { until } from '../scripts/test-stage.js';
import { openBrowser, type Browser } from './browser.js';
import { openPage, type Page } from './page.js';
import { setup } from './setup.js';

const on = setup();

const text = async (css: string): Promise<string> =>
  (await on.driver.findElements(By.css(css)))[0]?.getText() ?? Promise.resolve('');
const standingBy = (): Promise<string> => text('section[aria-label="Standing by"]');
const shown = async (css: string): Promise<boolean> => (await on.driver.findElements(By.css(css))).length > 0;
const seen = async <T>(path: string): Promise<T> =>
  (await (await fetch(`${on.stage.address}api/${path}`)).json()) as T;
const send = (method: string, path: string, body?: object): Promise<Response> =>
  fetch(`${on.stage.address}api/${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: body ? JSON.stringify(body) : null,
  });
const order = async (act: object): Promise<void> => void (await send('POST', 'desk/order', act));
/** Goes once; the guard time is off, so that a slow machine is no second press. */
const go = async (next: string): Promise<void> => {
  await on.page.press('Go');
  await until(async () => (await standingBy()).includes(next), `${next} stands by`);
};
describe('the demo’s moments, from the prompt desk', () => {
  test('the first ones fade the lantern rig and the water screen', async () => {
    await send('PATCH', 'show/settings', { guardMs: 0 });
    // The blackout follows so late that no machine is too slow to go to it by hand.
    await send('PATCH', 'moments/blackout', { follow: { after: 'start', ms: 3_600_000 } });
    await on.standIns();
    await on.page.press('Prompt desk');
    await until(async () => (await standingBy()).includes('House to half'), 'the first stands by');
    expect(await standingBy()).toContain('When the quay is quiet.');
    await on.page.press('Go');
    await until(async () => (await standingBy()).includes('Slack water'), 'the next stands by');
    await on.page.sees('1 · House to half');
    await on.page.press('Stand-ins');
    await on.page.press('Lantern rig');
    await until(async () => (await text('main')).includes('12 128'), 'the deck is at half');
    await on.page.press('Water screen');
    await on.arrives('/tide/height', String(Math.fround(0.2)));
  });

  test('the bell player gets its show control, the laser its note and its release, the stream its key', async () => {
    await on.page.press('Prompt desk');
    await go('Fog bank');
    await go('Storm glass breaks');
    await go('Blackout');
    await on.page.sees('4.5 · Blackout follows');
    await on.page.press('Stand-ins');
    await on.page.press('Fog laser');
    await until(() => shown('section [data-beam="27"]'), 'the beam of the fog bank stands');
    await until(async () => !(await shown('section [data-beam="28"]')), 'the beam of the storm was released');
    await on.page.press('Bell player');
    await until(
      async () =>
        (await (await on.driver.findElement(By.css('section [data-bell="4"]'))).getAttribute('data-rung')) !==
        '',
      'the fourth bell was rung',
    );
    await on.page.press('Quay stream');
    await on.page.sees('Storm');
    await on.page.press('Prompt desk');
    await go('Lamp lit');
    await on.page.press('Stand-ins');
    await on.page.press('Fog laser');
    await until(async () => !(await shown('section [data-beam="27"]')), 'the blackout ended the beam');
  });

  test('along time, what runs is marked where it is, and the line says who set its slots', async () => {
    await on.page.go('order/time');
    await on.page.sees('follows 3600 s after the start');
    await order({ do: 'call', id: 'slack-water' });
    await until(() => shown('[data-moment-time="Slack water"] [data-now]'), 'where it is now is marked');
    await on.page.go('lines/lantern-rig');
    const set = () => text('[data-set-by="2 · Slack water"]');
    await until(async () => (await set()).includes('1–12'), 'it is said who set the slots');
    await on.page.go('prompt');
    await order({ do: 'standBy', id: 'lamp-lit', catchUp: false });
  });

  test('hold stands still, stop all ends what runs, and back one goes back', async () => {
    await on.page.press('Prompt desk');
    await on.page.press('Go');
    await until(
      async () => (await standingBy()).includes('the last moment has been called'),
      'the last was called',
    );
    await on.page.press('Hold');
    await on.page.button('Resume');
    const left = (): Promise<string> => text('[data-runs="lamp-lit"] .font-mono');
    const held = await left();
    await on.driver.sleep(400);
    expect(await left()).toBe(held);
    await on.page.press('Resume');
    await until(async () => (await left()) !== held, 'it goes on');
    await on.page.press('Stop all');
    await on.page.sees('Nothing running');
    await on.page.press('Back one');
    await until(async () => (await standingBy()).includes('Lamp lit'), 'it stands by again');
  });

  test('a pad calls its moment at any force, and the key of the desk goes', async () => {
    await order({ do: 'standBy', id: 'house-to-half', catchUp: false });
    await on.page.go('prompt');
    await until(async () => (await standingBy()).includes('House to half'), 'jumped');
    await on.playElsewhere(0x99, 51, 3, 0x89, 51, 0);
    await until(async () => (await standingBy()).includes('Blackout'), 'the storm was called');
    await until(
      async () => (await on.page.lastEvent()).includes('note 51'),
      'the pad is among the last events',
    );
    expect(await on.page.lastEvent()).toContain('Lantern rig');
    await order({ do: 'standBy', id: 'slack-water', catchUp: false });
    await until(async () => (await standingBy()).includes('Slack water'), 'jumped back');
    await on.page.keys(Key.ENTER);
    await until(async () => (await standingBy()).includes('Fog bank'), 'Enter is Go');
    await order({ do: 'stopAll', ms: 0 });
  });
});

describe('a second browser', () => {
  let other: Browser | undefined;
  afterAll(() => other?.close());

  test('shows the same desk live', async () => {
    other = await openBrowser();
    const { driver } = other;
    const page: Page = openPage(driver, () => on.stage.address);
    await page.go('prompt');
    await page.sees('Fog bank');
    await on.page.go('prompt');
    await on.page.press('Go');
    const heading = async (): Promise<string> =>
      driver.findElement(By.css('section[aria-label="Standing by"]')).getText();
    await until(async () => (await heading()).includes('Storm glass breaks'), 'it follows');
    await order({ do: 'stopAll', ms: 0 });
  });
});

describe('what dies', () => {
  test('the browser, in the middle of a fade: nothing jumps', async () => {
    await order({ do: 'standBy', id: 'house-to-half', catchUp: false });
    await on.page.go('prompt');
    await until(async () => (await standingBy()).includes('House to half'), 'it stands by');
    await on.page.press('Go');
    await on.driver.get('about:blank');
    await on.page.go('stand-ins/lantern-rig');
    await until(async () => (await text('main')).includes('12 128'), 'the fade went on to its end');
  });

  test('the server: it comes back standing by where it was', async () => {
    await order({ do: 'standBy', id: 'storm-glass', catchUp: false });
    await on.page.go('prompt');
    await until(async () => (await standingBy()).includes('Storm glass breaks'), 'it stands by');
    // It is kept a moment after it is so.
    await until(
      async () => (await seen<{ standingBy: string }>('desk/order')).standingBy === 'storm-glass',
      'it is known',
    );
    await on.stage.restart();
    await on.page.go('prompt');
    await until(async () => (await standingBy()).includes('Storm glass breaks'), 'it stands by as before');
  });

  /** A fade that takes longer than the tests, from a level that is known. */
  async function fade(): Promise<void> {
    await order({ do: 'stopAll', ms: 0 });
    const sent = { kind: 'levels', lineId: 'lantern-rig', fadeMs: 300_000 };
    await send('PATCH', 'moments/slack-water', {
      sends: [{ ...sent, levels: [{ slots: [60, 60], level: 255 }] }],
    });
    await order({ do: 'trySend', send: { ...sent, fadeMs: 0, levels: [{ slots: [60, 61], level: 44 }] } });
    await order({ do: 'call', id: 'slack-water' });
    await until(
      async () => ((await seen<number[]>('desk/levels/lantern-rig'))[59] ?? 0) >= 44,
      'the level is known',
    );
    await until(async () => (await standingBy()).includes('Fog bank'), 'the desk says what stands by');
  }

  /** Kills, and looks at what the desk says until it is well again. @returns each different thing that it said */
  async function kill(pid: number, wellAgain: () => Promise<boolean>): Promise<string[]> {
    const said = new Set<string>();
    process.kill(pid, 'SIGKILL');
    await until(async () => {
      said.add(await standingBy());
      return wellAgain();
    }, 'it is well again');
    said.add(await standingBy());
    return [...said];
  }

  test('the server, killed in the middle of a fade: the fade goes on, and the desk never shows another moment', async () => {
    await on.page.go('prompt');
    await fade();
    const { pid } = on.stage.server;
    const before = pid()!;
    const well = async (): Promise<boolean> =>
      pid() !== null &&
      pid() !== before &&
      !(await on.page.says('No connection to the server')) &&
      (await seen<Partial<OrderSeen>>('desk/order').catch(() => null))?.running?.[0]?.id === 'slack-water';
    for (const said of await kill(before, well)) expect(said).toContain('Fog bank');
    expect(await on.page.says('was started again at')).toBe(false);
    await send('POST', 'undo');
  });

  test('the engine, killed in the middle of a fade: it is back where it was, says so, and no light jumps', async () => {
    await on.page.go('prompt');
    await fade();
    await until(() => {
      const kept = JSON.parse(readFileSync(join(on.stage.state, 'engine/live.json'), 'utf8')) as KeptLive;
      return kept.running.includes('slack-water');
    }, 'that it runs is kept');
    const well = (): Promise<boolean> => on.page.says('The engine restarted at');
    for (const said of await kill(on.stage.engine.pid()!, well)) expect(said).toContain('Fog bank');
    await on.page.sees('2 · Slack water was running: the fades were left where they were');
    await on.page.go('stand-ins/lantern-rig');
    await until(async () => (await text('main')).includes('61 44'), 'the light is as it was');
    await send('POST', 'undo');
    await order({ do: 'standBy', id: 'storm-glass', catchUp: false });
  });

  test('a line that the next moment needs: the desk says so before Go', async () => {
    const lines = await seen<{ show: { lines: { id: string; name: string }[] } }>('show');
    expect(lines.show.lines.some(({ id }) => id === 'fog-laser')).toBe(true);
    await send('PATCH', 'lines/fog-laser', { port: 'A laser that is not there' });
    await on.page.go('prompt');
    await on.page.sees('! Fog laser is');
  });
});

describe('the sheet', () => {
  test('makes a moment, with a cue between its neighbours, and what it sends', async () => {
    await on.page.go('order');
    await on.page.open('Slack water');
    const cue = async (): Promise<string | null> => (await on.page.field('Cue')).getAttribute('value');
    await until(async () => (await cue()) === '2', 'it is open');
    await on.page.press('Add a moment');
    await until(async () => (await cue()) === '2.5', 'a cue between 2 and 3');
    await on.page.type('Name', 'Gulls');
    await on.page.choose('Also send to', 'Lantern rig');
    await on.page.type('Levels', '5-6 at 30 %, 40 at full');
    await on.page.type('Fade', '1.5 s');
    await on.page.sees('5–6 at 30 %, 40 at full');
    await on.page.sees('fade 1.5 s');
  });

  test('says what is wrong in its place, and loses nothing', async () => {
    await on.page.type('Cue', '3');
    expect(await on.page.problemAt('Cue')).toBe(
      'Cue 3 is Fog bank already. Choose another number, such as one between.',
    );
    await on.page.type('Cue', 'three');
    expect(await on.page.problemAt('Cue')).toContain('A cue number is written in digits and points');
    await on.page.type('Cue', '2.7');
    await on.page.type('Levels', '5-6 at 300 %');
    expect(await on.page.problemAt('Levels')).toContain('“300 %” is more than 100 %');
    await on.page.type('Levels', '5 at 128/255');
    await on.page.type('Fade', '-1 s');
    expect(await on.page.problemAt('Fade')).toContain('Write a time like');
    await on.page.keys(Key.ESCAPE);
  });

  test('tries one thing and a row without moving what stands by', async () => {
    await on.page.go('order');
    await on.page.open('Gulls');
    await on.page.press('Try 5 at 50 %');
    await on.page.go('stand-ins/lantern-rig');
    await until(async () => (await text('main')).includes('5 128'), 'the slot is up');
    await on.page.go('prompt');
    await until(
      async () => (await standingBy()).includes('Storm glass breaks'),
      'what stands by is as it was',
    );
  });

  test('is renumbered, and undone', async () => {
    await on.page.go('order');
    await on.page.press('Renumber');
    const cues = async (): Promise<string[]> =>
      (await seen<{ show: { moments: { cue: string }[] } }>('show')).show.moments.map(({ cue }) => cue);
    await until(async () => (await cues()).join() === '1,2,3,4,5,6,7', 'they are numbered anew');
    await on.page.press('Undo: Renumber the running order');
    await until(async () => (await cues()).join() === '1,2,2.7,3,4,4.5,5', 'and back');
  });
});
