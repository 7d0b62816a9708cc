/**
 * Twelve jobs of the trade, each done as a new user would, from the demo show as it ships. What is pressed and typed is counted, and may not become
 * more: the numbers are what it takes today.
 */
import { beforeAll, beforeEach, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

const on = setup();

/** What a person did in one job. */
let done = { presses: 0, fields: 0 };
const press = async (words: string): Promise<void> => {
  done.presses++;
  await on.page.press(words);
};
const pad = async (number: number): Promise<void> => {
  done.presses++;
  await on.page.pad(number);
};
const type = async (label: string, text: string): Promise<void> => {
  done.fields++;
  await on.page.type(label, text);
};
const choose = async (part: string, label: string, words: string): Promise<void> => {
  done.presses += 2;
  await on.page.chooseIn(part, label, words);
};
/** Counts in the page, as a person's hand would, what is really pressed there: also what a helper of the tests presses on the side. */
const COUNTER = `
  window.pressed = { presses: 0, fields: 0 };
  const isText = ({ target }) => target.matches('input, textarea');
  addEventListener('pointerdown', (event) => { if (event.isTrusted && !isText(event)) pressed.presses++; }, true);
  addEventListener('change', (event) => { if (event.isTrusted && isText(event)) pressed.fields++; }, true);
`;
/** What a job takes: as the job counts it, and as the page has counted it. A press by keyboard is not seen as a click. */
async function took(presses: number, fields: number, byKeyboard = 0): Promise<void> {
  expect(done).toEqual({ presses, fields });
  const inPage = await on.driver.executeScript('return pressed');
  expect(inPage).toEqual({ presses: presses - byKeyboard, fields });
}

const call = (path: string, method = 'GET', body?: object): Promise<Response> =>
  fetch(`${on.stage.address}api/${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: body ? JSON.stringify(body) : null,
  });
const shown = async (css: string): Promise<boolean> => (await on.driver.findElements(By.css(css))).length > 0;
const lastEvent = (words: string): Promise<unknown> =>
  until(async () => (await on.page.lastEvent()).includes(words), `the last event says ${words}`);
/** Plays bytes as another controller on the line of the pads would. */
const play = (...bytes: number[]): Promise<void> => on.playElsewhere(...bytes);

let asItShips = '';
beforeAll(async () => {
  await on.before(COUNTER);
  const version = (await (await call('versions', 'POST', { name: 'As it ships' })).json()) as { id: string };
  asItShips = version.id;
});
beforeEach(async () => {
  await call(`versions/${asItShips}/restore`, 'POST');
  await on.page.go('mappings');
  await on.ready();
  done = { presses: 0, fields: 0 };
});

/** Learns what is played, and says on which line the new mapping sends. */
async function learn(bytes: number[], line: string): Promise<void> {
  await press('Learn');
  await on.page.sees('A new mapping will hear it.');
  await play(...bytes);
  await on.page.sees('It sends nothing yet. Choose where to.');
  await choose('Send', 'Line', line);
}

test('1. a first pad drives the visual', async () => {
  await on.page.go('start');
  await on.ready();
  await pad(1);
  await until(() => shown('[data-step="1"][data-done="true"]'), 'the step is ticked off');
  await took(1, 0, 1);
});

test('2. the faders 70 and 71 play the notes 111 and 112 with force', async () => {
  await learn([0xb0, 70, 3, 70, 40, 70, 90], 'Fog laser');
  await type('Note', '111');
  await press('Copy to the next');
  await on.page.sees('CC 71');
  for (const [fader, note, force] of [
    [70, 111, 64],
    [71, 112, 99],
  ] as const) {
    await play(0xb0, fader, force);
    await lastEvent(`note ${note}`);
    expect(await on.page.lastEvent()).toContain(`force ${force}`);
  }
  await took(4, 1);
});

/** Closes the open mapping, so that the next one that is learned is a new one. */
async function closeRow(row: string): Promise<void> {
  done.presses++;
  await on.page.open(row);
  await until(async () => (await on.driver.getCurrentUrl()).endsWith('/mappings'), 'the row is closed');
}

test('3. one pad types Space, another holds Page Down', async () => {
  await learn([0x99, 46, 90, 0x89, 46, 0], 'Quay stream');
  await type('Key', 'Space');
  await closeRow('Pad 11');
  await learn([0x99, 47, 90, 0x89, 47, 0], 'Quay stream');
  await type('Key', 'Page Down');
  await play(0x99, 46, 90);
  await lastEvent('key Space down');
  await play(0x99, 47, 90);
  await lastEvent('key Page Down down');
  await took(7, 2);
});

test('4. an octave plays a row of keys', async () => {
  await press('Spread a range');
  await type('Notes', 'C5-C6');
  await choose('Spread a range', 'To line', 'Quay stream');
  await press('Type the keys here, one after another');
  await on.page.keys(...'qwertyuiopasd');
  await press('Make 13 mappings');
  await on.page.button('Undo: Spread over 13 mappings');
  await play(0x99, 73, 90);
  await lastEvent('key W down');
  await took(5, 1);
});

test('5. Art-Net slots play notes over two channels', async () => {
  await press('Spread a range');
  await choose('Spread a range', 'From line', 'Deck desk');
  await choose('Spread a range', 'To line', 'Fog laser');
  await type('First', '120');
  await on.page.sees('Make 12 mappings');
  await until(() => shown('[data-spread-drawing][aria-label*="channel 2 from here"]'), 'the changeover');
  await press('Make 12 mappings');
  await on.page.button('Undo: Spread over 12 mappings');
  await took(6, 1);
});

test('6. an address with an open part', async () => {
  await press('Add');
  await choose('Hear', 'Line', 'Pier pads');
  await choose('Send', 'Line', 'Water screen');
  await type('Address', '/clip/{number}');
  await play(0x99, 46, 90);
  await lastEvent('/clip/46');
  await took(5, 1);
});

test('7. one controller drives two programs', async () => {
  await on.page.open('Storm glass breaks');
  done.presses++;
  await press('Add a send');
  await choose('Send', 'Line', 'Fog laser');
  await play(0x99, 36, 90);
  // The strobe of the storm hears the pad too.
  await lastEvent('and 2 more');
  await took(4, 0);
});

test('8. a wrong channel is found and set by Why?', async () => {
  await play(0x98, 36, 90, 0x88, 36, 0);
  await lastEvent('nothing sent');
  await press('Why?');
  await press('Set its channel to 9');
  await on.page.sees('Changed. Press again.');
  await play(0x98, 36, 90, 0x88, 36, 0);
  await lastEvent('/moment/storm/go');
  await took(2, 0);
});

test('9. four moments', async () => {
  await press('Running order');
  for (const name of ['Tide out', 'First bell', 'Gulls', 'All dark']) {
    await press('Add a moment');
    await until(
      async () => (await (await on.page.field('Name')).getAttribute('value')) === '',
      'a new row is open',
    );
    await type('Name', name);
  }
  await until(async () => {
    const { show } = (await (await call('show')).json()) as { show: { moments: { name: string }[] } };
    return show.moments
      .map(({ name }) => name)
      .join()
      .endsWith('Tide out,First bell,Gulls,All dark');
  }, 'all four have their names, in this order');
  await took(5, 4);
});

test('10. a version is kept, a new show made, the first one opened again, and the change undone', async () => {
  await press('Show: The Lantern Pier');
  await press('Shows and versions');
  await type('Keep as', 'Before doors');
  await on.page.sees('Before doors');
  await press('New show');
  await type('Name', 'Encore');
  await until(async () => (await on.driver.getCurrentUrl()).endsWith('/mappings'), 'the new show is open');
  await press('Show: Encore');
  await press('Shows and versions');
  const open = By.xpath("//li[@data-show='The Lantern Pier']//button[normalize-space()='Open']");
  await (await until(async () => (await on.driver.findElements(open))[0], 'the row of the show')).click();
  done.presses++;
  await on.page.button('Show: The Lantern Pier');
  await press('Running order');
  await press('Add a moment');
  await on.page.button('Undo: Add a moment');
  await press('Undo: Add a moment');
  await took(9, 2);
});

test('11. by keyboard only: a mapping is found, opened and tried', async () => {
  await on.page.chord(Key.CONTROL, 'k');
  done.fields++;
  await on.page.keys(...'fog bank');
  await on.page.keys(Key.ENTER);
  await until(async () => (await on.driver.getCurrentUrl()).endsWith('/mappings/fog'), 'it is open');
  expect(await on.page.says('/fog/density')).toBe(true);
  await took(0, 1);
});

test('12. a stand-in that is killed is said on its line, and comes back by itself', async () => {
  await on.page.go('lines/bell-player');
  const bell = on.stage.standIns['bell-player'];
  const pid = bell.pid()!;
  process.kill(pid, 'SIGKILL');
  await until(() => bell.pid() !== null && bell.pid() !== pid, 'it was started again');
  await on.ready();
  await took(0, 0);
});
