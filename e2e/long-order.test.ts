/** A running order of many moments: only the rows in sight are drawn, and only what runs is drawn anew. */
import { expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

const on = setup();
const MANY = 160;

const send = async (method: string, path: string, body: object): Promise<unknown> => {
  const response = await fetch(`${on.stage.address}api/${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  expect(response.ok).toBe(true);
  return response.json();
};
const rows = async (): Promise<string[]> =>
  on.driver.executeScript(
    "return [...document.querySelectorAll('[data-moment]')].map((row) => row.dataset.moment)",
  );
const isInSight = (id: string): Promise<boolean> =>
  on.driver.executeScript(
    `const list = document.querySelector('ol[aria-label="Moments"]').getBoundingClientRect();
     const row = document.querySelector('[data-moment="${id}"]')?.getBoundingClientRect();
     return row !== undefined && row.top >= list.top - 1 && row.top < list.bottom;`,
  );

test('only rows in sight are drawn; one that is opened is in sight, and arrows walk from there; paper has all of them', async () => {
  const made: string[] = [];
  for (let at = 0; at < MANY; at++) {
    const moment = (await send('POST', 'moments', { name: `Wave ${at}` })) as { id: string };
    made.push(moment.id);
  }
  const last = made.at(-1)!;
  await on.page.go(`order/${last}`);
  await until(() => isInSight(last), 'the row that is opened is in sight');
  const drawn = await rows();
  expect(drawn.length).toBeLessThan(MANY / 2);
  expect(drawn).not.toContain(made[0]);

  const row = await on.driver.findElement(By.css(`[data-moment="${last}"] [data-row]`));
  await row.sendKeys(Key.ESCAPE);
  for (let step = 0; step < 40; step++) await on.page.keys(Key.ARROW_UP);
  const focused = (): Promise<string | undefined> =>
    on.driver.executeScript("return document.activeElement.closest('[data-moment]')?.dataset.moment");
  await until(async () => (await focused()) === made.at(-41), 'the arrows have walked forty rows up');
  expect(await isInSight(made.at(-41)!)).toBe(true);

  await on.driver.executeScript("dispatchEvent(new Event('beforeprint'))");
  expect(await rows()).toEqual(expect.arrayContaining(made));
  await on.driver.executeScript("dispatchEvent(new Event('afterprint'))");
  await until(async () => (await rows()).length < MANY / 2, 'the screen has the rows in sight again');
});

test('while a moment fades, no other row is drawn anew', async () => {
  const fading = await on.page.go('order').then(() => rows());
  const levels = [{ slots: [1, 4], level: 200 }];
  await send('PATCH', `moments/${fading[0]}`, {
    sends: [{ kind: 'levels', lineId: 'rig', levels, fadeMs: 600_000 }],
  });
  await send('POST', 'desk/order', { do: 'call', id: fading[0] });
  await until(
    async () => (await on.driver.findElements(By.css('[data-running="true"]'))).length > 0,
    'it runs',
  );
  await on.driver.executeScript(`
    window.drawn = new Map();
    new MutationObserver((list) => {
      for (const { target } of list) {
        const row = (target.nodeType === 1 ? target : target.parentElement).closest('[data-moment]');
        if (row) window.drawn.set(row.dataset.moment, (window.drawn.get(row.dataset.moment) ?? 0) + 1);
      }
    }).observe(document.querySelector('ol[aria-label="Moments"]'),
      { subtree: true, childList: true, characterData: true, attributes: true });
  `);
  const drawn = (): Promise<[string, number][]> => on.driver.executeScript('return [...window.drawn]');
  await until(async () => (await drawn()).some(([, times]) => times > 20), 'the clock of its row goes on');
  expect((await drawn()).map(([id]) => id)).toEqual([fading[0]]);
});
