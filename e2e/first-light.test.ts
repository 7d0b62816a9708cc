/**
 * The first hours: a pad lights the water screen, Panic, safe, lines, traffic, the theme. The tests go on from one another, in their order: each finds
 * the show as the one before left it, and one that fails may take those after it along.
 */
import { afterEach, describe, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import { until } from '../scripts/test-stage.js';
import { float, setup } from './setup.js';

const on = setup();
/** A pad pressed with the keyboard has force 100. */
const FORCE = float(100 / 127);

describe('a pad lights the water screen', () => {
  test('pressed, it arrives there with exactly its address and value', async () => {
    await on.standIns();
    await on.page.pad(1);
    await on.arrives('/moment/storm/go', FORCE);
  });

  test('the mapping is opened and changed, and the next press sends the new message', async () => {
    await on.page.press('Mappings');
    await on.page.open('Storm glass breaks');
    await until(
      async () => (await on.driver.getCurrentUrl()).endsWith('/mappings/storm-go'),
      'the open row has an address',
    );
    await on.page.type('Address', '/lantern/glow');
    await on.page.type('Becomes', '1-0');
    await on.page.press('Stand-ins');
    await on.page.pad(1);
    await on.arrives('/lantern/glow', float(1 - 100 / 127));
  });

  test('a reload keeps what was counted, and what a mapping did last', async () => {
    await on.page.go('lines/pier-pads');
    await on.page.sees('4 messages, 12 bytes');
    await on.page.go('mappings/storm-go');
    await on.page.sees('heard 100');
  });

  test('a reload keeps the change', async () => {
    await on.driver.navigate().refresh();
    await on.page.go('mappings/storm-go');
    expect(await (await on.page.field('Address')).getAttribute('value')).toBe('/lantern/glow');
  });

  test('a restart of everything keeps it, and the page finds back by itself', async () => {
    await on.stage.restart();
    await until(
      async () => !(await on.page.says('No connection to the server')),
      'the page is connected again',
    );
    await on.standIns();
    await on.page.pad(1);
    await on.arrives('/lantern/glow', float(1 - 100 / 127));
  });

  test('Ctrl+Z brings back what was, step by step', async () => {
    await on.page.chord(Key.CONTROL, 'z');
    await on.page.sees('Undone: Change Storm glass breaks');
    await on.page.press('Undo: Change Storm glass breaks');
    await until(async () => {
      await on.page.pad(1);
      return (await on.page.received('/moment/storm/go')) === FORCE;
    }, 'the old message is sent again');
  });

  test('the row tells what just happened, and trying it by hand sends its strongest', async () => {
    await on.page.go('mappings/storm-go');
    const tryIt = await on.page.button('Try it');
    await on.driver.actions().move({ origin: tryIt }).press().release().perform();
    await until(
      async () => (await on.driver.findElement(By.css('[data-just-now]')).getText()).includes('heard 127'),
      'it is told',
    );
    await on.page.press('Stand-ins');
    await on.arrives('/moment/storm/go', '1');
  });
});

test('a fader on the screen carries its value across', async () => {
  await on.standIns();
  const fader = await on.driver.findElement(By.css('[aria-label="Fader 2, CC 22"]'));
  await fader.sendKeys(Key.END);
  await on.arrives('/sky/hue', float(0.95));
  await fader.sendKeys(Key.HOME);
  await on.arrives('/sky/hue', float(0.45));
});

describe('Panic', () => {
  async function hold(): Promise<void> {
    await on.standIns();
    const pad = await on.driver.findElement(By.css('[aria-label^="Pad 2, "]'));
    await on.driver.actions().move({ origin: pad }).press().perform();
    await until(async () => Number((await on.page.received('/tide/swell')) ?? 0) > 0.4, 'the swell is held');
  }
  afterEach(() => on.driver.actions().clear());

  test('on the button’s key releases what is held', async () => {
    await hold();
    await on.page.chord(Key.SHIFT, Key.ESCAPE);
    await on.arrives('/tide/swell', '0');
  });

  test('a tab that is closed with a pad held down releases it too', async () => {
    await hold();
    await on.page.go('traffic');
    await on.page.press('Stand-ins');
    await on.arrives('/tide/swell', '0');
  });
});

test('a safe show sends nothing, says so, and shows what it would have sent', async () => {
  await on.standIns();
  await on.page.press('Armed');
  await on.page.sees('Safe: everything is heard and shown, nothing is sent.');
  const count = async (): Promise<string> =>
    (await on.driver.findElement(By.css('[aria-label="Water screen"] p')).getText()).split(':')[1]!;
  const before = await count();
  await on.page.pad(1);
  await until(async () => (await on.page.lastEvent()).includes('withheld'), 'it was held back');
  expect(await count()).toBe(before);
  await on.page.press('Safe');
  await on.page.pad(1);
  await until(async () => (await count()) !== before, 'it arrives again');
});

test('the MIDI file drives it: start, tempo, stop', async () => {
  await on.standIns();
  await on.page.press('Start');
  await until(() => on.page.received('/bell/ripple'), 'the bells arrive');
  await on.page.type('Tempo', '240');
  await on.page.sees('Score player');
  await until(
    async () => (await (await on.page.field('Tempo')).getAttribute('value')) === '240 beats / min',
    'it plays at 240',
  );
  await on.page.type('Tempo', '1000');
  expect(await on.page.problemAt('Tempo')).toBe('A tempo is a number from 20 to 400 beats a minute.');
  await on.page.keys(Key.ESCAPE);
  await on.page.press('Stop');
  await on.page.button('Start');
});

describe('lines', () => {
  test('one is added, renamed, pointed elsewhere, and removed', async () => {
    await on.page.go('lines');
    await on.page.press('Add a line');
    await (
      await until(
        async () => (await on.driver.findElements(By.xpath("//button[contains(., 'OSC over UDP')]")))[0],
        'the kinds',
      )
    ).click();
    await on.page.type('Name', 'Second screen');
    await on.page.sees('Second screen');
    await on.page.type('Port', '9999');
    await on.page.sees('OSC · 127.0.0.1:9999');
    await on.page.sees('Nothing is listening at 127.0.0.1:9999.');
    await on.page.press('Remove line');
    await on.page.sees('Removed Second screen.');
    await on.page.press('Dismiss the message');
    await until(async () => !(await on.page.says('Second screen')), 'it is removed');
  });

  test('one over TCP says that nobody is there, and how it is framed can be chosen', async () => {
    await on.page.go('lines/new');
    const kind = await until(
      async () => (await on.driver.findElements(By.xpath("//button[contains(., 'OSC over TCP')]")))[0],
      'the kinds',
    );
    await kind.click();
    await on.page.type('Name', 'Bell tower');
    await on.page.type('Port', '9998');
    await on.page.sees('Nothing is listening at 127.0.0.1:9998. Start the program there');
    await on.page.choose('Framing', 'Length before each packet (OSC 1.0)');
    await on.page.press('Undo: Change line Bell tower');
    await on.page.sees('SLIP (OSC 1.1)');
    await on.page.press('Remove line');
    await until(async () => !(await on.page.says('Bell tower')), 'it is removed');
  });

  test('a stand-in that is killed is said, and its coming back too', async () => {
    await on.standIns();
    process.kill(on.stage.standIns['water-screen'].pid()!, 'SIGKILL');
    await on.page.sees('The water screen is not running.');
    await on.page.sees('Listens for OSC on UDP port');
    await until(async () => {
      await on.page.pad(1);
      return (await on.page.received('/moment/storm/go')) === FORCE;
    }, 'pads arrive again');
    await on.ready();
  });
});

test('traffic is decoded, raw on demand, and frozen on demand', async () => {
  await on.page.go('traffic');
  await on.playElsewhere(0x99, 36, 97);
  await on.page.sees('note 36 (C2) ch 10 pressed, force 97');
  await on.page.sees('/moment/storm/go 0.7638');
  expect(await on.page.says('99 24 61')).toBe(false);
  await on.flip('Raw bytes');
  await on.page.sees('99 24 61');
  await on.page.press('Freeze');
  await on.playElsewhere(0x99, 40, 55);
  await until(async () => (await on.page.lastEvent()).includes('note 40'), 'it passed');
  expect((await on.driver.findElement(By.css('[role="log"]')).getText()).includes('note 40')).toBe(false);
  await on.page.press('Continue');
  await on.page.sees('note 40 (E2) ch 10 pressed, force 55');
  await on.page.press('Line');
  await on.page.press('Water screen');
  const log = async (): Promise<string> => on.driver.findElement(By.css('[role="log"]')).getText();
  await until(async () => !(await log()).includes('note 36'), 'only what the water screen was sent is shown');
  expect(await log()).toContain('/moment/storm/go 0.7638');
  await on.page.press('Line');
  await on.page.press('Every line');
  await on.page.sees('note 40 (E2) ch 10 pressed, force 55');
});

test('the daylight theme is kept', async () => {
  await on.page.press('Daylight theme');
  await on.driver.navigate().refresh();
  await on.page.button('Dark theme');
  expect(await on.driver.executeScript('return document.documentElement.dataset.theme')).toBe('daylight');
  await on.page.press('Dark theme');
});
