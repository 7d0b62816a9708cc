/**
 * The whole show called by pads, what moments name, the sheet by keyboard, and the desk for a second browser. The tests go on from one another, in their
 * order: each finds the show as the one before left it, and one that fails may take those after it along.
 */
import { join } from 'node:path';
import { rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { describe, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import { ROOT } from '../scripts/build.js';
import { until } from '../scripts/test-stage.js';
import { float, setup } from './setup.js';

const on = setup();

const send = (method: string, path: string, body?: object): Promise<Response> =>
  fetch(`${on.stage.address}api/${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: body ? JSON.stringify(body) : null,
  });
const seen = async <T>(path: string): Promise<T> =>
  (await (await fetch(`${on.stage.address}api/${path}`)).json()) as T;
const cues = async (): Promise<string[]> =>
  (await seen<{ show: { moments: { cue: string }[] } }>('show')).show.moments.map(({ cue }) => cue);
const standingBy = async (): Promise<string> =>
  (await on.driver.findElement(By.css('section[aria-label="Standing by"]'))).getText();
const called = async (): Promise<string | undefined> =>
  (await seen<{ called: { id: string } | null }>('desk/order')).called?.id;

/** Brings a file to an input that is behind a label. */
const upload = async (label: string, file: string): Promise<void> => {
  const input = await until(
    async () =>
      (await on.driver.findElements(By.xpath(`//label[contains(., '${label}')]//input[@type='file']`)))[0],
    `a place for a file “${label}”`,
  );
  await input.sendKeys(file);
};

describe('the whole show', () => {
  const MOMENTS = ['house-to-half', 'slack-water', 'fog-bank', 'storm-glass', 'blackout', 'lamp-lit'];

  test('is called by pads only, at any force', async () => {
    await send('PATCH', 'show/settings', { guardMs: 0 });
    for (const [at, id] of MOMENTS.entries())
      await send('PATCH', `moments/${id}`, {
        callers: [
          {
            message: 'pressed',
            lineId: 'pier-pads',
            channels: [9, 9],
            numbers: [60 + at, 60 + at],
            values: 'any',
          },
        ],
      });
    await on.page.go('prompt');
    for (const [at, id] of MOMENTS.entries()) {
      await on.playElsewhere(0x99, 60 + at, 1 + at * 25, 0x99, 60 + at, 0);
      await until(async () => (await called()) === id, `${id} was called`);
    }
    await until(
      async () => (await standingBy()).includes('the last moment has been called'),
      'the show is over',
    );
    await on.page.press('Log of the show');
    await on.page.sees('Lamp lit');
    await on.page.sees('by Note 65 pressed');
    await until(
      async () => (await on.driver.findElements(By.css('.recharts-bar-rectangle'))).length >= 5,
      'the gaps are drawn',
    );
    await send('POST', 'desk/order', { do: 'stopAll' });
  });
});

describe('what moments name', () => {
  test('a MIDI file is added and played; one that breaks off is said, and nothing is lost', async () => {
    await on.page.go('order/files');
    const broken = join(tmpdir(), 'broken-bells.mid');
    writeFileSync(broken, Buffer.from('4d546864000000060001000201e04d54726b000000ff', 'hex'));
    await upload('Add a MIDI file', broken);
    await on.page.sees('broken-bells.mid: This MIDI file breaks off: track 1 should have 255 bytes');
    await upload('Add a MIDI file', join(ROOT, 'stand-ins/score-player/lantern-pier.mid'));
    await on.page.sees('begins at 112 beats a minute');
    await on.page.go('order/fog-bank');
    await on.page.choose('Also send to', 'Fog laser');
    await on.page.choose('Message', 'MIDI file');
    await on.page.type('Tracks', '9');
    expect(await on.page.problemAt('Tracks')).toBe('A track of this file is a number from 1 to 5.');
    await on.page.type('Tracks', '2');
    await on.page.type('Times', '0');
    await on.page.sees('until stopped');
    await on.standIns();
    await send('POST', 'desk/order', { do: 'try', id: 'fog-bank' });
    await on.page.press('Fog laser');
    await until(
      async () => (await on.driver.findElements(By.css('section [data-beam]'))).length > 0,
      'the file plays on the laser',
    );
    await send('POST', 'desk/order', { do: 'stopAll' });
  });

  test('a look is made of what a line has, and sent', async () => {
    const levels = { kind: 'levels', lineId: 'lantern-rig', levels: [{ slots: [70, 71], level: 200 }] };
    await send('POST', 'desk/order', { do: 'trySend', send: levels });
    await until(
      async () => (await seen<number[]>('desk/levels/lantern-rig'))[69] === 200,
      'the level is known',
    );
    await on.page.go('order/looks');
    await on.page.choose('Copy from', 'Lantern rig, as it is now');
    await until(
      async () => (await (await on.page.field('Levels')).getAttribute('value'))?.includes('70–71 at 200'),
      'the look has it',
    );
    await on.page.type('Levels', 'Stern at full');
    expect(await on.page.problemAt('Levels')).toContain(
      'There is no group “Stern”. The groups are Deck, Strobes, Lantern.',
    );
    await on.page.type('Levels', 'Deck at 20 %');
    await on.page.go('order/blackout');
    await on.page.choose('Also send to', 'Lantern rig');
    await on.page.choose('Message', 'A look');
    await on.page.sees('look Work light');
  });
});

describe('the sheet', () => {
  const focusRow = async (id: string): Promise<void> =>
    on.driver.executeScript(`document.querySelector('[data-moment="${id}"] [data-row]').focus()`);

  test('is found in, moved and pasted in by keyboard', async () => {
    await on.page.go('order');
    await on.page.keys('/');
    await on.page.keys('storm');
    await until(
      async () => (await on.driver.findElements(By.css('[data-moment]'))).length === 1,
      'only the storm is shown',
    );
    await on.page.keys(Key.ESCAPE);
    await until(
      async () => (await on.driver.findElements(By.css('[data-moment]'))).length === 6,
      'all again',
    );
    await focusRow('house-to-half');
    await on.page.chord(Key.ALT, Key.ARROW_DOWN);
    await until(async () => (await cues()).slice(0, 2).join() === '2,1', 'it is moved down');
    await send('POST', 'undo');
    await focusRow('house-to-half');
    await on.page.chord(Key.CONTROL, 'c');
    await on.page.sees('Copied 1 · House to half');
    await focusRow('slack-water');
    await on.page.chord(Key.CONTROL, 'v');
    await until(async () => (await cues()).join() === '1,2,2.5,3,4,4.5,5', 'the copy is behind the row');
    await on.page.press('Insert a moment above');
    await until(async () => (await cues()).length === 8, 'another one is there');
    for (let i = 0; i < 2; i++) await send('POST', 'undo');
  });

  test('takes a table, and says which of its lines it can’t take', async () => {
    const table = join(tmpdir(), 'cue-sheet.csv');
    writeFileSync(table, 'cue,name,Lantern rig\n2.5,Gulls,70 at full\nsix,Nothing,\n7,Late,1 at 300\n');
    await on.page.go('order');
    await on.page.press('Print and export');
    await upload('Import CSV', table);
    await on.page.sees('1 moment to add, 2 rows skipped');
    await on.page.sees('row 3: cue: “six” is not a cue number.');
    await on.page.sees('row 4: Lantern rig: “300” is more than 100 %');
    await on.page.press('Add 1');
    await until(async () => (await cues()).join() === '1,2,2.5,3,4,4.5,5', 'it is in its place');
    await send('POST', 'undo');
  });

  test('says how much of a large table was read, and stops when it is told to', async () => {
    const table = join(tmpdir(), `every-wave-${process.pid}.csv`);
    const cell = Array.from({ length: 40 }, (_, at) => `${at + 1} at ${at + 30} %`).join('; ');
    const rows = Array.from({ length: 9000 }, (_, at) => `${at + 10},Wave ${at},"${cell}"`);
    writeFileSync(table, `cue,name,Lantern rig\n${rows.join('\n')}\n`);
    await on.page.go('order');
    await on.page.press('Print and export');
    await upload('Import CSV', table);
    await on.page.sees(`Reading every-wave-${process.pid}.csv`);
    await on.page.press('Stop reading');
    await on.page.sees('Stopped: nothing was read.');
    await until(async () => !(await on.page.says('Stop reading')), 'it reads no more');
    rmSync(table);
  });

  test('writes show control, its bytes beside it', async () => {
    await on.page.go('order/lamp-lit');
    await on.page.press('Bell playergo 5');
    await on.page.choose('Command', 'timed go');
    await on.page.type('In', '2 s');
    await until(
      async () =>
        (await on.driver.findElement(By.css('[aria-label="Bytes of the message"]')).getText()).includes(
          '04 60 00 02 00 00 35',
        ),
      'the bytes of a timed go',
    );
    await send('POST', 'undo');
    await send('POST', 'undo');
  });
});

describe('the desk', () => {
  test('is locked: nothing is edited, and leaving asks', async () => {
    await on.page.go('prompt');
    await on.page.press('Lock the show');
    // A hand that falls on it does not unlock it.
    await on.page.press('Hold to unlock');
    await on.page.press('Running order');
    await on.page.sees('Leave the prompt desk?');
    await on.page.press('Stay here');
    expect(await standingBy()).not.toBe('');
    await on.page.press('Running order');
    await on.page.press('Leave');
    await on.page.open('Fog bank');
    const name = await on.page.field('Name');
    const before = await name.getAttribute('value');
    expect(await name.getAttribute('readonly')).not.toBeNull();
    await name.sendKeys('Smoke', Key.ENTER);
    expect(await name.getAttribute('value')).toBe(before);
    await on.page.press('Locked');
    const lock = await on.page.button('Hold to unlock');
    await on.driver.actions().move({ origin: lock }).press().perform();
    await on.page.sees('Lock the show');
    await on.driver.actions().release().perform();
  });

  test('has keys of its own, which can be changed, and goes by them wherever the focus is', async () => {
    await send('POST', 'desk/order', { do: 'standBy', id: 'house-to-half', catchUp: false });
    await on.page.go('prompt');
    await until(async () => (await standingBy()).includes('House to half'), 'it stands by');
    await on.page.press('Set up this desk');
    await on.page.type('Go', 'H');
    await on.page.sees('Two of them have the same key. Choose another.');
    await on.page.type('Go', 'G');
    await on.page.type('Name', 'Front of house');
    await on.page.keys(Key.ESCAPE);
    await until(
      async () => (await on.driver.findElements(By.css('[role="dialog"]'))).length === 0,
      'the setup is closed',
    );
    await on.page.press('Back one');
    await on.page.keys('g');
    await until(async () => (await standingBy()).includes('Slack water'), 'G is Go');
    await send('PATCH', 'show/settings', { guardMs: 10_000 });
    // The browser knows of the new time a moment later.
    await until(async () => {
      await on.page.keys('g');
      return on.page.says('A second Go within 10000 ms is ignored.');
    }, 'it says that the second one is ignored');
    expect(await standingBy()).toContain('Slack water');
    const log = await seen<{ current: { id: string } }>('log');
    await until(
      async () =>
        (await seen<{ askedBy: string }[]>(`log/${log.current.id}`)).at(-1)?.askedBy ===
        'by hand at Front of house',
      'the log knows which desk it was',
    );
  });

  test('lets a browser watch only: it follows, and does nothing but Panic', async () => {
    await on.page.press('Set up this desk');
    await on.flip('Only watch');
    await on.page.keys(Key.ESCAPE);
    await on.page.sees('This browser only watches.');
    expect(await on.driver.findElements(By.xpath(`//button[normalize-space()='Go']`))).toEqual([]);
    await on.page.keys('g');
    await on.page.sees('Press “Operate from here”');
    await send('POST', 'desk/order', { do: 'call', id: 'fog-bank' });
    await until(async () => (await standingBy()).includes('Storm glass breaks'), 'it follows');
    await on.page.press('Panic');
    await until(
      async () => (await seen<{ running: unknown[] }>('desk/order')).running.length === 0,
      'Panic is heeded',
    );
    await on.page.go('stand-ins');
    await on.ready();
    await send('PATCH', 'banks/storm-glass', { act: 'on' });
    await on.playElsewhere(0x99, 36, 127, 0x89, 36, 0);
    await on.arrives('/moment/storm/go', '1');
    // A pad of its own, at another force, plays nothing; what is played elsewhere after it would come after it.
    await on.page.pad(1);
    await on.page.sees('This browser only watches. Press');
    await send('PATCH', 'banks/house', { act: 'on' });
    await on.playElsewhere(0xb1, 22, 127);
    await on.arrives('/sky/hue', float(0.95));
    // The screen lists the last messages only.
    expect(['1', null]).toContain(await on.page.received('/moment/storm/go'));
    await on.page.go('prompt');
    await on.page.press('Operate from here');
    await on.page.button('Go');
  });
});
