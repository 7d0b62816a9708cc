/** The first visit: somebody who has never seen it gets a pad to drive the screen, changes what it does, and maps a pad of their own. */
import { expect, test } from '@jest/globals';
import { By } from 'selenium-webdriver';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

const on = setup();

const isDone = async (step: number): Promise<boolean> =>
  (await (await on.driver.findElement(By.css(`[data-step="${step}"]`))).getAttribute('data-done')) === 'true';

test('the first page is where something can be done, and its steps tick themselves off', async () => {
  await on.page.go('');
  await until(async () => (await on.driver.getCurrentUrl()).endsWith('/start'), 'the first steps are open');
  await on.ready();
  await on.page.pad(1);
  await until(() => isDone(1), 'the press is ticked off');
  await on.page.choose('Pad 1 will', 'Send a ripple');
  await until(() => isDone(2), 'the change is ticked off');
  await on.page.press('Learn');
  await on.page.sees('Press a pad that is free');
  await on.page.pad(12);
  await on.page.choose('Pad 12 will', 'Raise the tide');
  await on.page.sees('Now press it.');
  await on.page.pad(12);
  await until(() => isDone(3), 'the own mapping is ticked off');
  await on.page.press('Stand-ins');
  await on.arrives('/tide/height', String(Math.fround(100 / 127)));
});

test('it is left by a button, does not come again by itself, and is found again', async () => {
  await on.page.press('First steps');
  await on.page.press('Skip to the mappings');
  await on.page.go('');
  await until(async () => (await on.driver.getCurrentUrl()).endsWith('/mappings'), 'the mappings are open');
  expect(await on.page.says('Pad 12')).toBe(true);
});

test('the pads are brought up beside any page, and Learn hears them there', async () => {
  await on.page.go('mappings');
  await on.ready();
  await on.page.press('Show the pads on the screen');
  await on.page.press('Learn');
  await on.page.sees('Press a pad or move a fader.');
  await on.page.pad(14);
  await on.page.sees('Pad 14');
  await on.page.sees('It sends nothing yet. Choose where to.');
  await on.page.press('Close the pads');
  expect(await on.driver.findElements(By.css('[aria-label^="Pad 14, "]'))).toEqual([]);
});

test('Learn goes on while another place is open, says what it waits for, and leads to the mapping', async () => {
  await on.page.go('mappings');
  await on.page.press('Learn');
  await on.page.sees('A new mapping will hear it.');
  await on.page.press('Stand-ins');
  await on.page.sees('A new mapping will hear it.');
  await on.ready();
  await on.page.pad(11);
  await on.page.sees('Pad 11: note 46');
  await on.page.press('Open its mapping');
  await until(
    async () => (await (await on.page.field('Name')).getAttribute('value')) === 'Pad 11',
    'its mapping is open',
  );
  await on.page.press('Done');
});
