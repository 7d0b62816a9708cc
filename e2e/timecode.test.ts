/** The show is run by timecode: from the tide clock, by itself, and while the source dies. */
import { beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import type { LogEntry } from '@tawny-signal/core/cues/log';
import type { Moment } from '@tawny-signal/core/show/moment';
import type { OrderSeen } from '@tawny-signal/core/live/messages';
import type { Show } from '@tawny-signal/core/show';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

const on = setup();

const call: typeof on.call = (...given) => on.call(...given);
const show = async (): Promise<Show> => (await call<{ show: Show }>('show')).show;
const moment = async (id: string): Promise<Moment> => (await show()).moments.find((row) => row.id === id)!;
const called = async (): Promise<string | null> => (await call<OrderSeen>('desk/order')).called?.id ?? null;
const text = async (css: string): Promise<string> =>
  (await on.driver.findElements(By.css(css)))[0]?.getText() ?? Promise.resolve('');
const source = (): Promise<string> => text('[data-source="Tide clock"]');
const position = (): Promise<string> => text('[data-timecode]');
const mode = async (): Promise<string | null> =>
  (await on.driver.findElements(By.css('[data-position-mode]')))[0]?.getAttribute('data-position-mode') ??
  null;

/** Sets the tide clock, at a standstill. */
async function setTide(to: string, speed = '100 %'): Promise<void> {
  await on.page.go('stand-ins');
  await on.ready();
  if (await on.page.says('Stop the tide clock')) await on.page.press('Stop the tide clock');
  await on.page.type('Tide speed', speed);
  await on.page.type('Set to', to);
}

beforeAll(async () => {
  // The tide clock is a process beside others: on a busy machine it is silent for longer than the half second that is usual.
  await call('show/settings', 'PATCH', { timecode: { ...(await show()).settings.timecode, rideMs: 6000 } });
});
beforeEach(async () => {
  await call('desk/position', 'POST', { do: 'stop' });
  await call('desk/position', 'POST', { do: 'choose', source: 'auto' });
});

describe('the tide clock', () => {
  test('calls all six moments in their order, and each once', async () => {
    await call('log/begin', 'POST', { name: 'A night by timecode' });
    await setTide('01:00:00:00', '400 %');
    await on.page.press('Start the tide clock');
    await until(async () => (await called()) === 'lamp-lit', 'the last moment is called', 180_000);
    await on.page.press('Time');
    await until(async () => (await source()).includes('locked'), 'the source is shown as locked');
    expect(await mode()).toBe('following');
    const { current } = await call<{ current: { id: string } }>('log');
    const calls = async (): Promise<string[]> =>
      (await call<LogEntry[]>(`log/${current.id}`))
        .filter(({ what }) => what === 'called')
        .map(({ momentId, askedBy }) => `${momentId} ${askedBy}`);
    // The log is saved a little later.
    await until(async () => (await calls()).some((one) => one.startsWith('lamp-lit')), 'it is in the log');
    const order = ['house-to-half', 'slack-water', 'fog-bank', 'storm-glass', 'blackout', 'lamp-lit'];
    expect(await calls()).toEqual(order.map((id) => `${id} by timecode`));
    await call('log/end', 'POST');
  });

  test('is sent the position by another rate, and its package reads it', async () => {
    await setTide('01:02:00:00');
    await on.page.press('Start the tide clock');
    const received = By.css('[data-tide-received^="01:02:"]');
    await until(async () => (await on.driver.findElements(received)).length > 0, 'it receives what it sends');
    await on.page.sees('at 30 fps');
    await on.page.press('Water screen');
    await on.page.sees('It is told 01:02:');
  });

  test('that drops out for a moment stops nothing, and it is said', async () => {
    await setTide('01:03:00:00');
    await on.page.press('Start the tide clock');
    await on.page.press('Time');
    await until(async () => (await mode()) === 'following', 'it is followed');
    // Noted in the page, which stays loaded while its places change.
    await on.driver.executeScript(
      `window.modes = new Set(); setInterval(() => modes.add(document.querySelector('[data-position-mode]')?.dataset.positionMode), 20);`,
    );
    const before = await position();
    await on.page.press('Stand-ins');
    await on.page.press('Drop out for 0.4 s');
    await on.page.press('Time');
    await until(async () => (await mode()) === 'following', 'it is followed again');
    const seen = await on.driver.executeScript<string[]>('return [...modes].filter(Boolean)');
    expect(seen).not.toContain('lost');
    expect((await position()) > before).toBe(true);
    await until(async () => (await source()).includes('locked'), 'it is locked again');
    // What it rode through stays to be read at the source.
    await on.driver.findElement(By.css('[data-source="Tide clock"] button[data-row]')).click();
    await on.page.sees('Longest gap since it is locked: ');
    const gap = /Longest gap since it is locked: ([\d.]+) s/.exec(await source())!;
    expect(Number(gap[1])).toBeGreaterThanOrEqual(0.4);
  });

  test('that is killed is lost, and is followed again when it is back', async () => {
    await setTide('01:04:00:00');
    await on.page.press('Start the tide clock');
    await on.page.press('Time');
    await until(async () => (await mode()) === 'following', 'it is followed');
    const tide = on.stage.standIns['tide-clock'];
    const pid = tide.pid()!;
    process.kill(pid, 'SIGKILL');
    await until(async () => (await mode()) === 'lost', 'it is lost, and the position holds');
    await on.page.sees('Tide clock is lost: the position holds');
    const held = await position();
    await until(() => tide.pid() !== null && tide.pid() !== pid, 'it was started again');
    expect(await position()).toBe(held);
    await setTide('01:04:30:00');
    await on.page.press('Start the tide clock');
    await on.page.press('Time');
    await until(async () => (await mode()) === 'following', 'it is followed again');
    await until(async () => (await position()) >= '01:04:30', 'the position is there');
  });

  test('that runs at another rate than the show expects is said', async () => {
    await call('show/settings', 'PATCH', {
      timecode: { ...(await show()).settings.timecode, frameRate: '24' },
    });
    await setTide('01:05:00:00');
    await on.page.press('Start the tide clock');
    await on.page.press('Time');
    await on.page.sees('It sends 25 fps, and 24 fps is expected.');
    await call('undo', 'POST');
  });

  test('is overruled by our own position, until it counts by itself again', async () => {
    await setTide('01:06:00:00');
    await on.page.press('Start the tide clock');
    await on.page.press('Time');
    await until(async () => (await mode()) === 'following', 'it is followed');
    await on.page.press('Play our own');
    await until(async () => (await mode()) === 'own', 'ours counts');
    await on.page.press('Follow by itself again');
    await until(async () => (await mode()) === 'following', 'it is followed again');
  });
});

describe('our own position', () => {
  test('goes where it is told, says what does not exist, and calls what it passes', async () => {
    await setTide('00:00:00:00');
    await on.page.press('Time');
    await on.page.press('Go to …');
    await on.page.type('Timecode', '25:00:00:00');
    await on.page.sees('Hours are 0 to 23, not 25.');
    await on.page.type('Timecode', '01:00:14:20');
    await until(async () => (await position()) === '01:00:14:20', 'it goes there');
    expect(await called()).not.toBe('slack-water');
    await on.page.press('Go to …');
    await on.page.press('Play from there');
    await until(async () => (await called()) === 'slack-water', 'Slack water is called');
    await on.page.press('Stop');
    await until(async () => (await mode()) === 'own', 'ours stands');
  });

  test('goes round between two places, and refuses a loop of no length', async () => {
    await on.page.go('time');
    await on.ready();
    await on.page.press('Speed and loop');
    await on.page.type('Loop from', '00:10:00:00');
    await on.page.type('to', '00:10:00:00');
    expect(await on.page.problemAt('to')).toBe('A loop ends at least 0.1 s after it begins.');
    await on.page.type('to', '00:10:00:10');
    await on.page.sees('Switch the loop off');
    await on.page.keys(Key.ESCAPE);
    await on.page.press('Go to …');
    await on.page.type('Timecode', '00:10:00:00');
    await on.page.press('Play our own');
    // It comes back, and never goes on.
    const places = new Set<string>();
    await until(async () => places.add(await position()).size > 5, 'it runs');
    expect([...places].filter((place) => !place.startsWith('00:10:00:0'))).toEqual([]);
    await on.page.press('Speed, loop on');
    await on.page.press('Switch the loop off');
    await on.page.keys(Key.ESCAPE);
    await until(async () => (await position()) > '00:10:01:00', 'it goes on');
  });

  test('leaves out moments while calls are switched off, and says so', async () => {
    await on.page.go('time');
    await on.ready();
    await on.flip('Call moments by timecode');
    await call('desk/position', 'POST', { do: 'playFrom', ms: 3_629_500 });
    await on.page.sees('3 · Fog bank (not called: calls by timecode were off)');
    expect(await called()).not.toBe('fog-bank');
    await on.flip('Call moments by timecode');
  });

  test('writes the times of what is called, which one press takes back', async () => {
    await on.page.go('time');
    await on.ready();
    await on.page.press('Write times by playing');
    await call('desk/position', 'POST', { do: 'playFrom', ms: 7_200_000 });
    // It goes on while the prompt desk is open, where the moments are called.
    await on.page.press('Prompt desk');
    await on.page.sees('Calls by timecode are off');
    await call('desk/order', 'POST', { do: 'call', id: 'fog-bank' });
    await on.page.sees('Wrote 3 · Fog bank at 02:00:0');
    await until(async () => (await moment('fog-bank')).timecode?.startsWith('02:00:0'), 'it is saved');
    await on.page.press('Stop writing times');
    await until(async () => !(await on.page.says('Calls by timecode are off')), 'calls are on again');
    await on.page.press('Undo: Change moment 3 Fog bank');
    await until(async () => (await moment('fog-bank')).timecode === '01:00:30:00', 'the time is as before');
  });
});

describe('the strip', () => {
  test('moves a moment by a frame with the arrows, and all of them together', async () => {
    await on.page.go('time');
    await on.ready();
    const label = await on.page.button('5 · Lamp lit, called at 01:01:05:00');
    await label.sendKeys(Key.ARROW_RIGHT);
    await until(async () => (await moment('lamp-lit')).timecode === '01:01:05:01', 'a frame later');
    await (
      await on.page.button('5 · Lamp lit, called at 01:01:05:01')
    ).sendKeys(Key.chord(Key.SHIFT, Key.ARROW_LEFT));
    await until(async () => (await moment('lamp-lit')).timecode === '01:01:04:01', 'a second earlier');
    await on.page.press('Shift all times');
    await on.page.type('Shift by', '-02:00:00:00');
    await on.page.sees('would be outside of 00:00:00:00 to 24 h.');
    await on.page.type('Shift by', '+01:00:00:00');
    await until(async () => (await moment('lamp-lit')).timecode === '02:01:04:01', 'an hour later');
    expect((await moment('house-to-half')).timecode).toBe('02:00:05:00');
    await on.page.press('Undo: Set 6 times');
    await until(async () => (await moment('house-to-half')).timecode === '01:00:05:00', 'all at once');
  });

  test('moves a moment by dragging', async () => {
    const before = (await moment('fog-bank')).timecode!;
    const label = await on.driver.findElement(By.css('[data-marker="Fog bank"] button'));
    await on.driver
      .actions()
      .move({ origin: label })
      .press()
      .move({ origin: label, x: 60 })
      .release()
      .perform();
    await until(async () => (await moment('fog-bank')).timecode !== before, 'it is moved');
    expect((await moment('fog-bank')).timecode! > before).toBe(true);
  });
});

test('a moment’s timecode is typed in its row, and what does not exist is said there', async () => {
  await on.page.go('order/lamp-lit');
  await on.ready();
  await on.page.type('Timecode', '01:00:00:29');
  expect(await on.page.problemAt('Timecode')).toBe('There is no frame 29 at 25 fps: frames are 0 to 24.');
  await on.page.type('Timecode', '1:2:3');
  await until(
    async () => (await moment('lamp-lit')).timecode === '01:02:03:00',
    'it is saved as it is meant',
  );
});

test('a browser whose clock is an hour off draws the position where it is', async () => {
  await on.before(`{
    const { timeOrigin } = performance;
    Object.defineProperty(Performance.prototype, 'timeOrigin', { get: () => timeOrigin + 3_600_000 });
  }`);
  await call('desk/position', 'POST', { do: 'playFrom', ms: 5_400_000 });
  await on.page.go('time');
  await on.ready();
  await until(async () => /^01:3\d:/.test(await position()), 'it is drawn within ten minutes of its place');
  await call('desk/position', 'POST', { do: 'stop' });
});
