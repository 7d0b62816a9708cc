/**
 * What could go wrong in front of an audience is said before it does, and can be taken back. The tests go on from one another, in their order: each
 * finds the show as the one before left it, and one that fails may take those after it along.
 */
import { describe, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import type { Show } from '@tawny-signal/core/show';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

const on = setup();

const show = async (): Promise<Show> =>
  ((await (await fetch(`${on.stage.address}api/show`)).json()) as { show: Show }).show;
const level = async (slot: number): Promise<number> =>
  ((await (await fetch(`${on.stage.address}api/desk/levels/lantern-rig`)).json()) as number[])[slot - 1]!;
const order = (act: object): Promise<Response> =>
  fetch(`${on.stage.address}api/desk/order`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(act),
  });
const text = async (css: string): Promise<string> => (await on.driver.findElement(By.css(css))).getText();
/** Types without leaving the field. */
async function begin(label: string, words: string): Promise<void> {
  const field = await on.page.field(label);
  await field.click();
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), words);
}

describe('a number without a unit', () => {
  test('is seconds in a fade and in a wait, and is said back before it counts', async () => {
    await on.page.go('order/slack-water');
    await on.page.press('Lantern rig1–12 at 25 %fade 8 s');
    await begin('Fade', '3');
    await on.page.sees('= 3 s');
    await on.page.type('Fade', '3');
    await on.page.choose('Called', 'After the previous moment starts');
    await on.page.type('Wait', '2');
    await until(async () => {
      const moment = (await show()).moments.find(({ id }) => id === 'slack-water')!;
      const [levels] = moment.sends;
      return levels?.kind === 'levels' && levels.fadeMs === 3000 && moment.follow?.ms === 2000;
    }, 'the fade takes 3 s, and the moment waits 2 s');
  });

  test('is percent in levels, and 128 asks whether the level of a slot is meant', async () => {
    await begin('Levels', '40-43 at 30');
    await on.page.sees('= 40–43 at 30 %');
    await on.page.type('Levels', '40-43 at 30');
    await until(async () => {
      const [levels] = (await show()).moments.find(({ id }) => id === 'slack-water')!.sends;
      return levels?.kind === 'levels' && levels.levels[0]?.level === 77;
    }, '30 % of 255 is saved');
    await on.page.type('Levels', '40 at 128');
    expect(await on.page.problemAt('Levels')).toContain('write 128/255');
    for (let undone = 0; undone < 4; undone++) await fetch(`${on.stage.address}api/undo`, { method: 'POST' });
  });
});

test('a pad that calls a moment is not free in its layout', async () => {
  await on.page.go('mappings/layouts');
  await on.page.button('Pad 16, calls 4 · Storm glass breaks');
  await on.page.button('Pad 12, free');
});

describe('catching up', () => {
  test('shows first what would change, and changes nothing until it is pressed', async () => {
    await order({ do: 'standBy', id: 'house-to-half', catchUp: false });
    await on.page.go('order/lamp-lit');
    await on.ready();
    await on.page.press('Catch up to here …');
    await on.page.sees('Notes are not sent.');
    await until(
      async () => (await text('[data-catch-up]')).includes('/fog/density 0'),
      'it says what the water screen would get',
    );
    const before = await level(1);
    await on.page.press('Cancel');
    expect(await level(1)).toBe(before);
  });

  test('is done, and taken back by a jump back, from the message that says it', async () => {
    await order({
      do: 'trySend',
      send: {
        kind: 'levels',
        lineId: 'lantern-rig',
        delayMs: 0,
        fadeMs: 0,
        curve: 'straight',
        levels: [{ slots: [1, 1], level: 99 }],
      },
    });
    await until(async () => (await level(1)) === 99, 'slot 1 was set by hand');
    await on.page.press('Catch up to here …');
    await on.page.press('Catch up now');
    await until(async () => (await level(1)) === 0, 'the blackout above it counts');
    await on.page.press('Jump back');
    await until(async () => (await level(1)) === 99, 'slot 1 has the level that was set by hand');
    await on.page.go('prompt');
    await until(
      async () => (await text('section[aria-label="Standing by"]')).includes('House to half'),
      'what stood by stands by again',
    );
  });
});

describe('removing a line that others use', () => {
  test('says first what uses it, and removes nothing', async () => {
    await on.page.go('lines/fog-laser');
    await on.page.press('Remove line');
    await until(
      async () =>
        /Fog laser is used by \d+ mappings?.* and \d+ moments?\./.test(await text('[data-removal]')),
      'it says what uses it',
    );
    await on.page.press('Cancel');
    expect((await show()).lines.some(({ id }) => id === 'fog-laser')).toBe(true);
  });

  test('can move everything to another line, and the message takes it back', async () => {
    const before = await show();
    await on.page.press('Remove line');
    await on.page.choose('Move all to', 'Bell player');
    await on.page.press('Move to Bell player and remove');
    await on.page.sees('Removed Fog laser.');
    expect(JSON.stringify(await show())).not.toContain('"fog-laser"');
    await on.page.press('Undo');
    await until(async () => JSON.stringify(await show()) === JSON.stringify(before), 'the show is as it was');
  });

  test('asks nothing about a look that no moment sends', async () => {
    await on.page.go('order/looks');
    await on.page.press('Add a look');
    await until(async () => (await show()).looks.length === 2, 'there is another look');
    const added = (await show()).looks.at(-1)!;
    await on.page.press(`Remove look ${added.name}`);
    await on.page.sees(`Removed ${added.name}.`);
  });
});

test('a copy to the next control is named after it, and hears and sends the next', async () => {
  await on.page.go('mappings/beam');
  const from = (await show()).mappings.find(({ id }) => id === 'beam')!;
  const { length } = (await show()).mappings;
  await on.page.press('Copy to the next');
  const mappings = await until(async () => {
    const all = (await show()).mappings;
    return all.length > length ? all : null;
  }, 'it is made');
  const made = mappings[mappings.findIndex(({ id }) => id === from.id) + 1]!;
  const number = (hear: Show['mappings'][number]['hear']): number =>
    'numbers' in hear && hear.numbers !== 'any' ? hear.numbers[0] : NaN;
  expect(number(made.hear)).toBe(number(from.hear) + 1);
  await fetch(`${on.stage.address}api/undo`, { method: 'POST' });
});

describe('what Go will do', () => {
  test('is shown before it, with levels from where to where, and what it did after', async () => {
    await order({ do: 'standBy', id: 'storm-glass', catchUp: false });
    await on.page.go('prompt');
    await on.ready();
    const rows = (): Promise<string> => text('section[aria-label="Go will do"]');
    await until(async () => (await rows()).includes('off → full'), 'the strobes go from off to full');
    expect(await rows()).toContain('/moment/storm/go');
    expect(await rows()).toContain('note 28 (E1)');
    await on.page.press('Go');
    await until(
      async () => /sent \d+ messages on \d lines/.test(await text('section[aria-label="Called"]')),
      'it says what was sent',
    );
    // The same is among the last events, though nothing came in.
    await until(async () => /sent .* by moment 4/.test(await on.page.lastEvent()), 'the last event says it');
  });
});

test('the last event stays through a reload', async () => {
  await on.playElsewhere(0x99, 47, 93);
  await until(async () => (await on.page.lastEvent()).includes('force 93'), 'the pad is the last event');
  await on.driver.navigate().refresh();
  await until(async () => (await on.page.lastEvent()).includes('force 93'), 'it still is');
});
