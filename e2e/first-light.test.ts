import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import { By, Key, type WebDriver } from 'selenium-webdriver';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';
import { openBrowser, type Browser } from './browser.js';
import { openPage, type Page } from './page.js';

let stage: TestStage;
let browser: Browser;
let driver: WebDriver;
let page: Page;

beforeAll(async () => {
  stage = await openTestStage();
  browser = await openBrowser();
  driver = browser.driver;
  page = openPage(driver, () => stage.address);
});
afterAll(async () => {
  await browser?.close();
  await stage?.stop();
});

/** What a float argument is after its four bytes on the wire. */
const float = (value: number): string => String(Math.fround(value));
const FORCE = float(100 / 127);

async function arrives(address: string, value: string): Promise<void> {
  await until(
    async () => (await page.received(address)) === value,
    `${address} ${value} arrived at the water screen`,
  ).catch(async (error: unknown) => {
    throw new Error(`${String(error)}; it has ${address} ${await page.received(address)}`);
  });
}

/** All the lines are open, so that what is pressed leaves. */
async function ready(): Promise<void> {
  await until(
    async () => !(await page.says('waiting')) && !(await page.says('not answering')),
    'every line is open',
  );
}

async function standIns(): Promise<void> {
  await page.go('stand-ins');
  await ready();
}

describe('a pad lights the water screen', () => {
  test('pressed, it arrives there with exactly its address and value', async () => {
    await standIns();
    await page.pad(1);
    await arrives('/moment/storm/go', FORCE);
  });

  test('the mapping is opened and changed, and the next press sends the new message', async () => {
    await page.press('Mappings');
    await page.open('Storm glass breaks');
    await until(
      async () => (await driver.getCurrentUrl()).endsWith('/mappings/storm-go'),
      'the open row has an address',
    );
    await page.type('Address', '/lantern/glow');
    await page.type('Becomes', '1-0');
    await page.press('Stand-ins');
    await page.pad(1);
    await arrives('/lantern/glow', float(1 - 100 / 127));
  });

  test('a reload keeps the change', async () => {
    await driver.navigate().refresh();
    await page.go('mappings/storm-go');
    expect(await (await page.field('Address')).getAttribute('value')).toBe('/lantern/glow');
  });

  test('a restart of everything keeps it, and the page finds back by itself', async () => {
    await stage.restart();
    await until(async () => !(await page.says('No connection to the server')), 'the page is connected again');
    await standIns();
    await page.pad(1);
    await arrives('/lantern/glow', float(1 - 100 / 127));
  });

  test('Ctrl+Z brings back what was, step by step', async () => {
    await page.chord(Key.CONTROL, 'z');
    await page.sees('Undone: Change Storm glass breaks');
    await page.press('Undo: Change Storm glass breaks');
    await until(async () => {
      await page.pad(1);
      return (await page.received('/moment/storm/go')) === FORCE;
    }, 'the old message is sent again');
  });

  test('the row tells what just happened, and trying it by hand sends its strongest', async () => {
    await page.go('mappings/storm-go');
    const tryIt = await page.button('Try it');
    await driver.actions().move({ origin: tryIt }).press().release().perform();
    await until(
      async () => (await driver.findElement(By.css('[data-just-now]')).getText()).includes('heard 127'),
      'it is told',
    );
    await page.press('Stand-ins');
    await arrives('/moment/storm/go', '1');
  });
});

test('a fader on the screen carries its value across', async () => {
  await standIns();
  const fader = await driver.findElement(By.css('[aria-label="Fader 2, CC 22"]'));
  await fader.sendKeys(Key.END);
  await arrives('/sky/hue', float(0.95));
  await fader.sendKeys(Key.HOME);
  await arrives('/sky/hue', float(0.45));
});

describe('Panic', () => {
  async function hold(): Promise<void> {
    await standIns();
    const pad = await driver.findElement(By.css('[aria-label^="Pad 2, "]'));
    await driver.actions().move({ origin: pad }).press().perform();
    await until(async () => Number((await page.received('/tide/swell')) ?? 0) > 0.4, 'the swell is held');
  }
  afterEach(() => driver.actions().clear());

  test('on the button’s key releases what is held', async () => {
    await hold();
    await page.chord(Key.SHIFT, Key.ESCAPE);
    await arrives('/tide/swell', '0');
  });

  test('a tab that is closed with a pad held down releases it too', async () => {
    await hold();
    await page.go('traffic');
    await page.press('Stand-ins');
    await arrives('/tide/swell', '0');
  });
});

test('a safe show sends nothing, says so, and shows what it would have sent', async () => {
  await standIns();
  await page.press('Armed');
  await page.sees('The show is safe: everything is heard and shown, nothing goes out.');
  const count = async (): Promise<string> =>
    (await driver.findElement(By.css('[aria-label="Water screen"] p')).getText()).split(':')[1]!;
  const before = await count();
  await page.pad(1);
  await until(async () => (await page.lastEvent()).includes('held back'), 'it was held back');
  expect(await count()).toBe(before);
  await page.press('Safe');
  await page.pad(1);
  await until(async () => (await count()) !== before, 'it arrives again');
});

test('the MIDI file drives it: start, tempo, stop', async () => {
  await standIns();
  await page.press('Start');
  await until(() => page.received('/bell/ripple'), 'the bells arrive');
  await page.type('Tempo', '240');
  await page.sees('Score player');
  await until(
    async () => (await (await page.field('Tempo')).getAttribute('value')) === '240 beats / min',
    'it plays at 240',
  );
  await page.type('Tempo', '1000');
  expect(await page.problemAt('Tempo')).toBe('A tempo is a number from 20 to 400 beats a minute.');
  await page.keys(Key.ESCAPE);
  await page.press('Stop');
  await page.button('Start');
});

describe('learning and making mappings', () => {
  test('Learn, then a pad: a mapping hears it, at any force', async () => {
    await page.go('mappings');
    await page.press('Learn');
    await page.sees('Press a pad or move a fader. A new mapping will hear it.');
    await playElsewhere(0x99, 48, 33);
    await until(
      async () => /\/mappings\/[\w-]{6,}/.test(await driver.getCurrentUrl()),
      'the new mapping is open',
    );
    expect(await (await page.field('Note')).getAttribute('value')).toBe('48 (C3)');
    expect(await (await page.field('Channel')).getAttribute('value')).toBe('10');
    expect(await (await page.field('Force')).getAttribute('value')).toBe('any');
    await page.type('Address', '/fog/density');
    await playElsewhere(0x99, 48, 127);
    await until(
      async () => (await driver.findElement(By.css('[data-just-now]')).getText()).includes('heard 127'),
      'it fires',
    );
  });

  test('it is named, copied, moved, switched off and removed; undo brings it back', async () => {
    await page.type('Name', 'Gull cries');
    await page.press('Copy');
    await page.sees('Gull cries copy');
    const names = async (): Promise<string[]> =>
      Promise.all(
        (await driver.findElements(By.css('[data-mapping] [data-row] .font-semibold:first-child'))).map(
          (one) => one.getText(),
        ),
      );
    const place = async (name: string): Promise<number> =>
      (await names()).filter((one) => !one.startsWith('/')).indexOf(name);
    const before = await place('Gull cries copy');
    await page.press('Move up');
    await until(async () => (await place('Gull cries copy')) === before - 1, 'it moved up');
    await (await driver.findElement(By.css('[role="switch"][aria-label="On"]'))).click();
    await page.sees('Switched off');
    await page.press('Remove');
    await until(async () => (await place('Gull cries copy')) < 0, 'it is removed');
    await page.chord(Key.CONTROL, 'z');
    await page.sees('Gull cries copy');
  });

  test('a bank that is off keeps its mappings from firing, and Why? says so', async () => {
    await page.go('mappings');
    await page.press('Storm glass');
    await page.sees('Bank Storm glass is off');
    await playElsewhere(0x99, 36, 90);
    await until(async () => (await page.lastEvent()).includes('nothing sent'), 'nothing was sent');
    await page.press('Why?');
    await page.sees('its bank Storm glass is off');
    await page.keys(Key.ESCAPE);
    await page.press('Storm glassoff');
  });
});

/** Plays the pads from another connection, as another tab would. */
async function playElsewhere(...bytes: number[]): Promise<void> {
  await ready();
  const { WebSocket } = await import('ws');
  const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
  await new Promise((done) => socket.on('open', done));
  socket.send(
    JSON.stringify({ t: 'ports', ports: [{ kind: 'midi-inside', name: 'Pier pads', in: true, out: false }] }),
  );
  socket.send(Uint8Array.from([2, 0, ...bytes]));
  await new Promise<void>((done) => {
    socket.on('close', () => done());
    socket.close();
  });
}

describe('the keyboard', () => {
  test('arrows walk the rows, Enter opens, Escape closes', async () => {
    await page.go('mappings');
    await (
      await until(async () => (await driver.findElements(By.css('[data-row]')))[0], 'rows')
    ).sendKeys(Key.ARROW_DOWN);
    await page.keys(Key.ARROW_DOWN, Key.ENTER);
    await until(
      async () => (await driver.getCurrentUrl()).endsWith('/mappings/lamp'),
      'the third row is open',
    );
    await page.keys(Key.ESCAPE);
    await until(async () => (await driver.getCurrentUrl()).endsWith('/mappings'), 'it is closed');
  });

  test('/ finds in the sheet, Ctrl+K finds anything', async () => {
    await page.keys('/');
    await page.keys('fog');
    await until(
      async () => (await driver.findElements(By.css('[data-mapping]'))).length < 4,
      'few rows are left',
    );
    await page.keys(Key.ESCAPE);
    await page.chord(Key.CONTROL, 'k');
    await page.keys('Water');
    await page.sees('line');
    await page.keys(Key.ENTER);
    await until(
      async () => (await driver.getCurrentUrl()).endsWith('/lines/water-screen'),
      'the line is open',
    );
  });
});

describe('bad input is said at its field, and what was typed stays', () => {
  const refused = async (label: string, text: string, said: string): Promise<void> => {
    const before = await (await page.field(label)).getAttribute('value');
    await page.type(label, text);
    expect(await page.problemAt(label)).toContain(said);
    expect(await (await page.field(label)).getAttribute('value')).toBe(text);
    await page.keys(Key.ESCAPE);
    await until(
      async () => (await (await page.field(label)).getAttribute('value')) === before,
      'Escape brings back what is kept',
    );
  };

  test('on a mapping: an address without /, a channel of 17, a note that there is not', async () => {
    await page.go('mappings/storm-go');
    await refused('Address', 'fog/density', 'An OSC address begins with /');
    await refused('Channel', '17', 'A channel is a number from 1 to 16');
    await refused('Channel', '8-3', 'The range 8-3 runs backwards');
    await refused('Note', 'H9', 'A note is a number from 0 to 127');
    await refused('Becomes', 'loud', 'Write two numbers');
  });

  test('on a line: a port of 70000, a name already used, no host', async () => {
    await page.go('lines/water-screen');
    await refused('Port', '70000', 'A port is a number from 1 to 65535.');
    await refused('Name', 'pier pads', '“Pier pads” is used already.');
    await refused('Send to', 'front of house', 'Write an address like 192.168.1.20');
  });

  test('a file that is no MIDI file, and one that breaks off', async () => {
    await standIns();
    const input = await driver.findElement(By.css('input[type="file"]'));
    const give = async (bytes: string | Uint8Array): Promise<void> => {
      const path = join(tmpdir(), `tawny-${process.pid}.mid`);
      writeFileSync(path, bytes);
      await input.sendKeys(path);
    };
    await give('Slack water, then fog.');
    await page.sees('This is not a MIDI file. Choose a Standard MIDI File');
    await give(
      Uint8Array.of(
        0x4d,
        0x54,
        0x68,
        0x64,
        0,
        0,
        0,
        6,
        0,
        1,
        0,
        2,
        1,
        0xe0,
        0x4d,
        0x54,
        0x72,
        0x6b,
        0,
        0,
        1,
        0,
      ),
    );
    await page.sees(
      'breaks off: track 1 should have 256 bytes, and only 0 are there. The file from before is still loaded.',
    );
    await page.sees('lantern-pier.mid');
  });
});

describe('lines', () => {
  test('one is added, renamed, pointed elsewhere, and removed', async () => {
    await page.go('lines');
    await page.press('Add a line');
    await (
      await until(
        async () => (await driver.findElements(By.xpath("//button[contains(., 'OSC over UDP')]")))[0],
        'the kinds',
      )
    ).click();
    await page.type('Name', 'Second screen');
    await page.sees('Second screen');
    await page.type('Port', '9999');
    await page.sees('OSC · 127.0.0.1:9999');
    await page.sees('Nothing is listening at 127.0.0.1:9999.');
    await page.press('Remove line');
    await until(async () => !(await page.says('Second screen')), 'it is removed');
  });

  test('a stand-in that is killed is said, and its coming back too', async () => {
    await standIns();
    process.kill(stage.waterScreen.pid()!, 'SIGKILL');
    await page.sees('The water screen is not running.');
    await page.sees('A program of its own, listening for OSC on UDP port');
    await until(async () => {
      await page.pad(1);
      return (await page.received('/moment/storm/go')) === FORCE;
    }, 'pads arrive again');
    await ready();
  });
});

test('traffic is decoded, raw on demand, and frozen on demand', async () => {
  await page.go('traffic');
  await playElsewhere(0x99, 36, 97);
  await page.sees('note 36 (C2) ch 10 pressed, force 97');
  await page.sees('/moment/storm/go 0.7638');
  expect(await page.says('99 24 61')).toBe(false);
  await (await driver.findElement(By.css('[role="switch"][aria-label="Raw bytes"]'))).click();
  await page.sees('99 24 61');
  await page.press('Freeze');
  await playElsewhere(0x99, 40, 55);
  await until(async () => (await page.lastEvent()).includes('note 40'), 'it passed');
  expect((await driver.findElement(By.css('[role="log"]')).getText()).includes('note 40')).toBe(false);
  await page.press('Go on');
  await page.sees('note 40 (E2) ch 10 pressed, force 55');
});

test('the daylight theme is kept', async () => {
  await page.press('Daylight theme');
  await driver.navigate().refresh();
  await page.button('Dark theme');
  expect(await driver.executeScript('return document.documentElement.dataset.theme')).toBe('daylight');
  await page.press('Dark theme');
});
