/** The page that is read from far away, and the prompt desk as an installed app. */
import { expect, test } from '@jest/globals';
import { By } from 'selenium-webdriver';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

interface DevTools {
  sendAndGetDevToolsCommand(name: string, args: object): Promise<unknown>;
}

const on = setup();
const tools = (): DevTools => on.driver as unknown as DevTools;
const heightOf = async (css: string): Promise<number> =>
  Number(
    await on.driver.executeScript(
      `return parseFloat(getComputedStyle(document.querySelector(arguments[0])).fontSize)`,
      css,
    ),
  );

test('says what is on and what is next in letters that can be read at three metres, and sends nothing', async () => {
  await on.page.go('prompt');
  await on.page.press('Show it large, to be read from afar');
  await on.page.sees('nothing yet');
  await on.call('desk/order', 'POST', { do: 'go' });
  const on1 = '[aria-label="On"] p:nth-of-type(2)';
  const text = async (css: string): Promise<string> => (await on.driver.findElement(By.css(css))).getText();
  await until(async () => (await text(on1)).includes('House to half'), 'it says what is on');
  expect(await text('[aria-label="Next"] p:nth-of-type(2)')).toContain('Slack water');
  // A letter is read at three metres if it is some 10 mm high (1/300 of the way: a rule of sign makers, from memory). On a tablet 217 mm wide, with
  // 1280 pixels, capitals are 0.7 of the size of the type.
  const millimetres = async (css: string): Promise<number> => (await heightOf(css)) * 0.7 * (217 / 1280);
  for (const css of [on1, '[aria-label="Next"] p:nth-of-type(2)', 'main p.font-mono'])
    expect([css, (await millimetres(css)) >= 10]).toEqual([css, true]);
  expect(await on.driver.findElements(By.xpath("//button[contains(., 'Go')]"))).toEqual([]);
  const { width, height } = await on.driver.executeScript<{ width: number; height: number }>(
    'return { width: document.documentElement.scrollWidth - innerWidth, height: document.documentElement.scrollHeight - innerHeight }',
  );
  expect([width <= 0, height <= 0]).toEqual([true, true]);
});

test('says in large letters what is wrong', async () => {
  await on.call('desk/armed', 'PUT', { armed: false });
  await on.page.sees('Safe: nothing is sent');
  await on.call('desk/armed', 'PUT', { armed: true });
});

test('keeps the screen on while it is in sight', async () => {
  await on.driver.executeScript(`window.asked = 0;
    Object.defineProperty(navigator, 'wakeLock', { value: { request: () => { window.asked++;
      return Promise.resolve({ released: false, release: () => Promise.resolve(), addEventListener() {} }); } } });`);
  await on.page.press('Prompt desk');
  await until(
    async () => (await on.driver.executeScript<number>('return window.asked')) > 0,
    'the prompt desk asks for it',
  );
});

test('can be installed, opens on the prompt desk, and opens again where it was', async () => {
  const errors = async (): Promise<unknown> =>
    tools().sendAndGetDevToolsCommand('Page.getInstallabilityErrors', {});
  const manifest = await tools().sendAndGetDevToolsCommand('Page.getAppManifest', {});
  expect(manifest).toMatchObject({ errors: [] });
  expect(await errors()).toEqual({ installabilityErrors: [] });
  await on.driver.get(`${on.stage.address}?app=1`);
  await until(async () => (await on.driver.getCurrentUrl()).endsWith('/prompt'), 'the prompt desk opens');
  // As in a window of its own, which headless Chromium has not.
  await on.before(`const asked = matchMedia;
    window.matchMedia = (query) => (query.includes('display-mode') ? { matches: true } : asked.call(window, query));`);
  await on.page.go('order');
  await on.driver.get(`${on.stage.address}?app=1`);
  await until(async () => (await on.driver.getCurrentUrl()).endsWith('/order'), 'it opens where it was');
});
