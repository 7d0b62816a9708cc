/**
 * A controller that the browser has, from its plug to its unplugging. The tests go on from one another, in their order: each finds the show as the one
 * before left it, and one that fails may take those after it along.
 */
import { beforeAll, expect, test } from '@jest/globals';
import { until } from '../scripts/test-stage.js';
import { FAKE_MIDI } from './fake-midi.js';
import { setup } from './setup.js';

const on = setup();
beforeAll(() => on.before(FAKE_MIDI));

const fake = (call: string): Promise<unknown> => on.driver.executeScript(`return window.fakeMidi.${call}`);

test('that it is not allowed is said, with what to do', async () => {
  await on.page.go('lines');
  await on.driver.executeScript("sessionStorage.refuse = '1'");
  await on.page.press('Allow MIDI');
  await on.page.sees('MIDI is not allowed in this browser for this page.');
  await on.driver.executeScript("sessionStorage.removeItem('refuse')");
  await on.page.press('Try again');
  await on.page.sees('Nothing is plugged in. A controller that is plugged in later appears here by itself.');
});

test('a controller that is plugged in late appears, and becomes a line', async () => {
  await fake("plug('Tide keys')");
  await on.page.sees('Tide keys');
  await on.page.press('Use as a line');
  await on.page.sees('is the line Tide keys');
});

test('what it plays is learned, and drives the water screen', async () => {
  await on.page.press('Mappings');
  await on.page.press('Learn');
  await on.page.sees('Press a pad or move a fader.');
  await until(async () => !(await on.page.says('waiting')), 'the line is open');
  await fake("play('Tide keys', 0xb0, 74, 12)");
  await until(
    async () => /\/mappings\/[\w-]{6,}/.test(await on.driver.getCurrentUrl()),
    'the new mapping is open',
  );
  expect(await (await on.page.field('Controller')).getAttribute('value')).toBe('74');
  await on.page.sees('cc 74 ch 1');
  await on.page.chooseIn('Send', 'Line', 'Water screen');
  await on.page.type('Address', '/fog/density');
  await on.page.sees('/fog/density');
  await fake("play('Tide keys', 0xb0, 74, 127)");
  await on.page.press('Stand-ins');
  await until(async () => (await on.page.received('/fog/density')) === '1', 'it arrived');
});

test('its unplugging is said, and it is picked up again', async () => {
  await on.page.press('Lines');
  await fake("unplug('Tide keys')");
  await on.page.sees('“Tide keys” was unplugged. It reconnects when it is plugged in.');
  await fake("plug('Tide keys')");
  await until(async () => !(await on.page.says('was unplugged')), 'the line is open again');
});

test('a port that another program holds is said so, and taken when it is let go', async () => {
  await on.driver.executeScript("sessionStorage.held = '1'");
  await fake("unplug('Tide keys')");
  await fake("plug('Tide keys')");
  await on.page.sees('in use by another program: close it there');
  await on.page.sees(
    'Another program uses “Tide keys”. Close it there; it reconnects when the port is free.',
  );
  await on.driver.executeScript("sessionStorage.removeItem('held')");
  await on.ready();
  await until(async () => !(await on.page.says('in use by another program')), 'it is taken');
});

test('a browser without MIDI is told what to use', async () => {
  await on.before('delete Navigator.prototype.requestMIDIAccess; delete navigator.requestMIDIAccess;');
  await on.page.go('lines');
  await on.page.sees('This browser has no Web MIDI.');
  await on.page.sees('The browser tab with “Tide keys” was closed.');
});
