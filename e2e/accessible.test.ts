/** Every page in both themes and three sizes: nothing that axe-core (an independent checker of WCAG 2 and good practice) finds, and nothing off the screen. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { beforeAll, expect, test } from '@jest/globals';
import { PAGES } from './every-page.js';
import { setup } from './setup.js';

const on = setup();

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
const SIZES = [
  [1280, 800],
  [1024, 700],
  [390, 844],
] as const;

interface DevTools {
  sendDevToolsCommand(name: string, args: object): Promise<void>;
}
const resize = (width: number, height: number): Promise<void> =>
  (on.driver as unknown as DevTools).sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width,
    height,
    deviceScaleFactor: 1,
    mobile: false,
  });

/** What axe finds, as one line for each fault. */
const faults = (): Promise<string[]> =>
  on.driver.executeAsyncScript(`
    const done = arguments[arguments.length - 1];
    axe.run(document, { resultTypes: ['violations'] }).then(
      ({ violations }) => done(violations.flatMap(({ id, nodes }) => nodes.map(({ target, failureSummary }) =>
        id + ': ' + target.join(' ') + ' ' + failureSummary.split('\\n').slice(1, 2).join(' ').trim()))),
      (error) => done([String(error)]),
    );`);

/** Whatever reaches over the right edge of the window without being in something that scrolls. */
const offScreen = (): Promise<string[]> =>
  on.driver.executeScript(`
    const clips = (element) => /auto|scroll|hidden|clip/.test(getComputedStyle(element).overflowX);
    const clipped = (element) => {
      for (let parent = element.parentElement; parent; parent = parent.parentElement)
        if (clips(parent) && parent.getBoundingClientRect().right <= innerWidth + 1) return true;
      return false;
    };
    return [...document.querySelectorAll('body *')]
      .filter((element) => {
        const { width, right } = element.getBoundingClientRect();
        return width > 0 && right > innerWidth + 1 && !clipped(element);
      })
      .slice(0, 3)
      .map((element) => element.tagName + ' ' + element.className);`);

/** What the page's own policy has refused it. */
const REFUSED = `
  window.refused = [];
  addEventListener('securitypolicyviolation', ({ violatedDirective, blockedURI, sourceFile, lineNumber }) =>
    // Zod asks whether it may make functions out of text, and does without.
    blockedURI !== 'eval' &&
    window.refused.push([violatedDirective, blockedURI, sourceFile, lineNumber].join(' ')));`;
beforeAll(() => on.before(REFUSED));

test.each(PAGES)('%s', async (path) => {
  await resize(1280, 800);
  await on.page.go(path);
  await on.ready();
  await on.driver.executeScript(AXE);
  const found: string[] = [];
  for (const [width, height] of SIZES) {
    await resize(width, height);
    for (const theme of ['dark', 'daylight']) {
      await on.driver.executeScript(`document.documentElement.dataset.theme = '${theme}'`);
      for (const fault of await faults()) found.push(`${width} ${theme} ${fault}`);
    }
    for (const element of await offScreen()) found.push(`${width} off the screen: ${element}`);
  }
  // 1280 x 800 at a zoom of 200 % (WCAG 2.2, 1.4.4).
  await resize(640, 400);
  for (const element of await offScreen()) found.push(`at 200 % off the screen: ${element}`);
  for (const refused of await on.driver.executeScript<string[]>('return window.refused'))
    found.push(`refused by the page's policy: ${refused}`);
  expect(found).toEqual([]);
});
