/**
 * What a control is told, what it is called, what signals make of the show, and the files that shows are kept in. The tests go on from one another, in
 * their order: each finds the show as the one before left it, and one that fails may take those after it along.
 */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import type { Show } from '@tawny-signal/core/show';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

const on = setup();
const folder = mkdtempSync(join(tmpdir(), 'tawny-files-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const shown = async (css: string): Promise<boolean> => (await on.driver.findElements(By.css(css))).length > 0;
const lamp = async (pad: number): Promise<string> =>
  (await on.driver.findElement(By.css(`[aria-label^="Pad ${pad}, "]`)).getAttribute('aria-label')) ?? '';
/** A field of one of the parts of the open mapping: some labels stand in two of them. */
const inPart = async (part: string, label: string): Promise<string> => {
  const found = By.xpath(`//section[@aria-label='${part}']//label[.='${label}']`);
  const element = await until(async () => (await on.driver.findElements(found))[0], `${label} in ${part}`);
  return (await element.getAttribute('for'))!;
};
const chooseIn = async (part: string, label: string, words: string): Promise<void> => {
  await (await on.driver.findElement(By.id(await inPart(part, label)))).click();
  await on.page.press(words);
};
const typeIn = async (part: string, label: string, text: string): Promise<void> =>
  (await on.driver.findElement(By.id(await inPart(part, label)))).sendKeys(
    Key.chord(Key.CONTROL, 'a'),
    text,
    Key.ENTER,
  );

test('a fader becomes a note’s force, and a lamp answers', async () => {
  await on.page.go('mappings');
  await on.page.press('Learn');
  await on.playElsewhere(0xb1, 24, 3, 24, 9, 24, 20, 24, 0);
  await on.page.sees('Fader 4');
  await on.page.press('Done');
  await chooseIn('Send', 'Line', 'Fog laser');
  await typeIn('Send', 'Channel', '6');
  // What is typed next is saved together with what is known of the mapping by then.
  await on.page.sees('Fog laser · ch 6');
  await typeIn('Send', 'Note', '40');
  await on.page.press('Add feedback');
  await chooseIn('Feedback', 'Lamp shows', 'Lit while the output is above 0');
  await chooseIn('Feedback', 'Sent as', 'Its note');
  await typeIn('Feedback', 'Channel', '10');
  await typeIn('Feedback', 'Note', '47');
  await on.page.go('stand-ins/fog-laser');
  await on.ready();
  const fader = await on.driver.findElement(By.css('[aria-label="Fader 4, CC 24"]'));
  await fader.sendKeys(Key.END);
  await until(() => shown('section [data-beam="40"]'), 'the beam stands');
  await until(async () => (await lamp(12)).includes('127 lamp'), 'the lamp is lit');
  await fader.sendKeys(Key.HOME);
  await until(async () => !(await shown('section [data-beam="40"]')), 'the beam is gone');
  await until(async () => !(await lamp(12)).includes('lamp'), 'the lamp is dark');
});

test('a pad switches a bank, its lamp says so, and Why? says that the bank was off', async () => {
  await on.standIns();
  await until(async () => (await lamp(4)).includes('127 lamp'), 'the bank is on');
  await on.page.pad(4);
  await until(async () => !(await lamp(4)).includes('lamp'), 'the lamp is dark');
  await on.page.pad(1);
  await until(async () => (await on.page.lastEvent()).includes('note 36'), 'it passed');
  await on.page.press('Why?');
  await on.page.sees('bank Storm glass is off');
  await on.page.press('Switch on bank Storm glass');
  await until(async () => (await lamp(4)).includes('127 lamp'), 'the bank is on again');
  await on.page.keys(Key.ESCAPE);
  await on.page.pad(1);
  await on.arrives('/moment/storm/go', String(Math.fround(100 / 127)));
  await on.page.press('Traffic');
  await on.page.sees('/moment/storm/go');
});

test('a message in Traffic says each value on its way, and when what was sent left', async () => {
  await on.standIns();
  await on.page.pad(3);
  await on.page.press('Traffic');
  const row = By.xpath("//*[@data-way='in'][contains(., 'note 38') and contains(., 'pressed, force 100')]");
  await (await until(async () => (await on.driver.findElements(row))[0], 'the press is listed')).click();
  await on.page.sees('it fired: 100 was shaped into 0.8874');
  await until(
    async () =>
      /on Water screen, \d+\.\d\d ms after it came/.test(
        await on.driver.findElement(By.css('body')).getText(),
      ),
    'the send has its time',
  );
});

describe('a layout', () => {
  test('is learned by touching, in the order of touching', async () => {
    await on.page.go('mappings/layouts');
    await on.page.press('New layout');
    await until(
      async () => (await (await on.page.field('Name')).getAttribute('value'))?.startsWith('New controller'),
      'the new one is shown',
    );
    await on.page.type('Name', 'Small box');
    await on.page.press('Learn its controls');
    await on.page.sees('Touch every control of Small box once');
    await on.playElsewhere(0x90, 60, 90, 0x80, 60, 0, 0x90, 62, 80, 0x80, 62, 0);
    await on.page.button('Pad 2, free');
    await on.playElsewhere(0xb0, 30, 3, 30, 40, 30, 90);
    await on.page.button('Fader 1, free');
    await on.page.press('Done');
  });

  test('names its controls in the sheet, and shows which are taken', async () => {
    await on.page.press('Pad 2, free');
    await on.page.type('Control name', 'Harbour bell');
    await on.page.button('Harbour bell, free');
    await on.page.press('Make a mapping for it');
    await on.page.sees('note 62 (D4)');
    await on.page.go('mappings/layouts');
    await on.page.press('Small box');
    await on.page.button('Harbour bell, Harbour bell');
  });

  test('is drawn as it lies: moved by key', async () => {
    const control = await on.page.button('Fader 1, free');
    const before = (await control.getRect()).x;
    await control.sendKeys(Key.chord(Key.ALT, Key.ARROW_RIGHT));
    await until(async () => (await (await on.page.button('Fader 1, free')).getRect()).x > before, 'it moved');
  });
});

test('a curve is drawn: a press adds a point, which the mouse and the keys move', async () => {
  await on.page.go('mappings/fog');
  const graph = await until(
    async () => (await on.driver.findElements(By.css('section[aria-label="Shape"] svg[role="group"]')))[0],
    'the curve',
  );
  const { x, y, width, height } = await graph.getRect();
  const at = (across: number, up: number): { x: number; y: number } => ({
    x: Math.round(x + across * width),
    y: Math.round(y + (1 - up) * height),
  });
  await on.driver.actions().move(at(0.4, 0.5)).press().move(at(0.5, 0.9)).release().perform();
  await until(
    async () => (await (await on.page.field('Points')).getAttribute('value'))!.split(',').length === 6,
    'a sixth point',
  );
  const points = async (): Promise<string> => (await (await on.page.field('Points')).getAttribute('value'))!;
  const drawn = await points();
  const point = By.css('[role="slider"][aria-label="Point 3"]');
  await on.driver.findElement(point).sendKeys(Key.ARROW_DOWN);
  await until(async () => (await points()) !== drawn, 'the key moved it');
  await on.driver.findElement(point).sendKeys(Key.DELETE);
  await until(async () => (await points()).split(',').length === 5, 'it is gone');
});

test('a formula says what is wrong where it is wrong, and what it makes', async () => {
  await on.page.go('mappings/fog');
  await on.page.choose('Curve', 'By a formula');
  await on.page.type('Formula', 'value / 127 + loud');
  expect(await on.page.problemAt('Formula')).toContain('At “loud”: There is no “loud”');
  await on.page.type('Formula', 'value > 63 ? 1 : 0.25');
  await on.page.sees('= value > 63 ? 1 : 0.25');
  await on.standIns();
  const fader = await on.driver.findElement(By.css('[aria-label="Fader 1, CC 21"]'));
  await fader.sendKeys(Key.END);
  await on.arrives('/fog/density', '1');
  await fader.sendKeys(Key.HOME);
  await on.arrives('/fog/density', '0.25');
});

test('the sheet works with the keyboard alone: found, opened, changed, moved, closed', async () => {
  await on.page.go('mappings');
  await on.page.sees('Colour of the sky');
  await on.page.keys('/');
  await on.page.keys('sky', Key.ARROW_DOWN);
  await until(
    async () => (await (await on.driver.switchTo().activeElement()).getText()).includes('Colour of the sky'),
    'the row has the keyboard',
  );
  await on.page.keys(Key.ENTER);
  await until(() => shown('section[aria-label="Hear"]'), 'it is open');
  // From the row into its fields: line, message, channel.
  for (let tab = 0; tab < 3; tab++) await on.page.keys(Key.TAB);
  await on.page.chord(Key.CONTROL, 'a');
  await on.page.keys('3', Key.ENTER);
  await on.page.sees('CC 22 · ch 3');
  await on.page.keys(Key.ESCAPE);
  await until(async () => !(await shown('section[aria-label="Hear"]')), 'it is closed');
  await on.page.keys('/', Key.ESCAPE, Key.ARROW_DOWN);
  // By its id: what is written in it says how long ago it fired.
  const first = async (): Promise<string | null> =>
    (await on.driver.findElement(By.css('[data-mapping]'))).getAttribute('data-mapping');
  const before = await first();
  await on.page.chord(Key.ALT, Key.ARROW_DOWN);
  await until(async () => (await first()) !== before, 'the row went down');
  await on.page.chord(Key.CONTROL, 'z');
  await until(async () => (await first()) === before, 'and back');
});

describe('files', () => {
  const give = async (accept: string, name: string, text: string): Promise<void> => {
    const path = join(folder, name);
    writeFileSync(path, text);
    const inputs = await until(async () => {
      const found = await on.driver.findElements(
        By.xpath(`//label[contains(., '${accept}')]//input[@type='file']`),
      );
      return found[0];
    }, `a place for ${name}`);
    await inputs.sendKeys(path);
  };
  const openMenu = (): Promise<void> => on.page.press('Show: The Lantern Pier');

  test('mappings come from a table: what can’t be taken is named by its line, the rest is added', async () => {
    await on.page.go('mappings');
    await openMenu();
    await give(
      'Import mappings from CSV',
      'cues.csv',
      'name,hear line,hear,number,send line,send,to number\nGull,Pier pads,pressed,C5,Water screen,osc,/gull\nTern,Pier pads,tapped,C5,Water screen,osc,/tern\n',
    );
    await on.page.sees('1 mapping to add, 1 row skipped');
    await on.page.sees('row 3: hear: “tapped” is not one of');
    await on.page.press('Add 1');
    await on.page.sees('Added 1 mapping from cues.csv');
    // The menu takes keys until it is closed.
    await until(async () => {
      await on.page.keys(Key.ESCAPE);
      const find = await on.driver.findElement(By.css('input[aria-label="Find a mapping"]'));
      await find.click();
      await find.sendKeys(Key.chord(Key.CONTROL, 'a'), 'gull');
      return on.page.says('/gull');
    }, 'the mapping that was added is found');
  });

  test('the tempo is typed, and a wrong one is refused at its field', async () => {
    await on.page.press('Tempo: 120.0 beats / min');
    await on.page.type('Tempo', '900');
    expect(await on.page.problemAt('Tempo')).toBe('A tempo is 20 to 400 beats a minute.');
    await on.page.type('Tempo', '96.5');
    await on.page.button('Tempo: 96.5 beats / min');
    // It is played, and is no edit of the show until somebody says so.
    const opensWith = async () =>
      ((await (await fetch(`${on.stage.address}api/files/show`)).json()) as Show).settings.tempo;
    await on.page.sees('This show opens at 120.0.');
    expect(await opensWith()).toBe(120);
    await on.page.press('Open at 96.5');
    await on.page.sees('This show opens at 96.5.');
    expect(await opensWith()).toBe(96.5);
  });
});
