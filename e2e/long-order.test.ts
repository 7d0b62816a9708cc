/** A running order of many moments: only the rows in sight are drawn, and only what runs is drawn anew. */
import { expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import { writePosition } from '@tawny-signal/core/timecode/timecode';
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
  const focused = (): Promise<string | undefined> =>
    on.driver.executeScript("return document.activeElement.closest('[data-moment]')?.dataset.moment");
  for (let step = 1; step <= 40; step++) {
    await on.page.keys(Key.ARROW_UP);
    await until(
      async () => (await focused()) === made.at(-1 - step),
      `the arrows have walked ${step} rows up`,
    );
  }
  expect(await isInSight(made.at(-41)!)).toBe(true);

  await on.driver.executeScript("dispatchEvent(new Event('beforeprint'))");
  expect(await rows()).toEqual(expect.arrayContaining(made));
  await on.driver.executeScript("dispatchEvent(new Event('afterprint'))");
  await until(async () => (await rows()).length < MANY / 2, 'the screen has the rows in sight again');
});

/**
 * Counts how often React renders each row, through the hook that it offers to developer tools: what is rendered again without need is not seen in the
 * page. A fiber that was visited and rendered has the flag `PerformedWork`; one that was only copied has not.
 */
const COUNT_RENDERS = `
  window.renders = {};
  const visit = (fiber) => {
    const { moment, columns } = fiber.memoizedProps ?? {};
    if (moment && columns && fiber.alternate && fiber.flags & 1)
      window.renders[moment.id] = (window.renders[moment.id] ?? 0) + 1;
    if (fiber.alternate && fiber.alternate.child === fiber.child) return;
    for (let child = fiber.child; child; child = child.sibling) visit(child);
  };
  window.commits = 0;
  window.__REACT_DEVTOOLS_GLOBAL_HOOK__ = {
    supportsFiber: true, inject: () => 1, onCommitFiberUnmount() {}, onPostCommitFiberRoot() {},
    onCommitFiberRoot(_, root) { window.commits++; visit(root.current); },
  };
`;

test('while a moment fades, its clock goes on and no row is rendered again', async () => {
  await on.before(COUNT_RENDERS);
  await on.page.go('order');
  const [fading] = await rows();
  const levels = [{ slots: [1, 4], level: 200 }];
  await send('PATCH', `moments/${fading}`, {
    sends: [{ kind: 'levels', lineId: 'rig', levels, fadeMs: 600_000 }],
  });
  await send('POST', 'desk/order', { do: 'call', id: fading });
  const running = `[data-moment="${fading}"][data-running="true"]`;
  await until(async () => (await on.driver.findElements(By.css(running))).length > 0, 'it runs');
  // The row has been rendered since it runs, so that rendering is counted at all.
  expect(await on.driver.executeScript('return window.renders')).toHaveProperty([fading!]);
  await on.driver.executeScript('window.renders = {}; window.commits = 0');
  const words = async (): Promise<string> => (await on.driver.findElement(By.css(running))).getText();
  const seen = new Set<string>();
  await until(async () => seen.add(await words()).size > 5, 'the seconds that are left go down');
  expect(await on.driver.executeScript('return window.commits')).toBeGreaterThan(5);
  expect(await on.driver.executeScript('return window.renders')).toEqual({});
});

const STRIP = 500;
const EVERY_MS = 10_000;
/** The server takes 200 at once. */
const PASTED = 125;
const timeOf = (at: number): string => writePosition(3_600_000 + at * EVERY_MS, '25');

test('500 moments along the position: drawn larger, the middle stays, only what is in sight is drawn, and one is moved by a frame', async () => {
  const moments = Array.from({ length: STRIP }, (_, at) => ({
    name: `Tide ${at}`,
    timecode: timeOf(at),
    sends: [],
  }));
  for (let from = 0; from < STRIP; from += PASTED)
    await send('POST', 'moments/paste', { moments: moments.slice(from, from + PASTED) });
  await on.page.go('time');
  const strip = '[aria-label="Moments along the position"]';
  const markers = async (): Promise<string[]> =>
    on.driver.executeScript(
      "return [...document.querySelectorAll('[data-marker]')].map((one) => one.dataset.marker)",
    );
  await until(
    async () => (await markers()).filter((name) => name.startsWith('Tide ')).length === STRIP,
    'all are on the strip',
  );
  const middle = (): Promise<string | undefined> =>
    on.driver.executeScript(
      `const strip = document.querySelector('${strip}').getBoundingClientRect();
       const far = (one) => Math.abs(one.getBoundingClientRect().left - strip.left - strip.width / 2);
       return [...document.querySelectorAll('[data-marker]')].sort((a, b) => far(a) - far(b))[0].dataset.marker;`,
    );
  const before = await middle();
  for (let step = 0; step < 6; step++) await (await on.page.button('Show it larger')).click();
  await until(async () => (await markers()).length < 40, 'only what is in sight is drawn');
  expect(await middle()).toBe(before);

  const name = before!;
  const at = Number(name.slice('Tide '.length));
  const marker = await on.driver.findElement(By.css(`[data-marker="${name}"] button`));
  await on.driver.executeScript('arguments[0].focus()', marker);
  await on.page.keys(Key.ARROW_RIGHT);
  const saved = async (): Promise<string | null | undefined> => {
    const { show } = await on.call<{ show: { moments: { name: string; timecode: string | null }[] } }>(
      'show',
    );
    return show.moments.find((moment) => moment.name === name)?.timecode;
  };
  await until(
    async () => (await saved()) === writePosition(3_600_000 + at * EVERY_MS + 40, '25'),
    'it is moved by a frame',
  );
});
