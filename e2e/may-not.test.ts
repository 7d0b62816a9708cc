/** What somebody may not do can’t be pressed: every button of every page is pressed, and none of them is refused. */
import { beforeAll, expect, test } from '@jest/globals';
import { By } from 'selenium-webdriver';
import { LIVE_NEEDS } from '@tawny-signal/core/people/needs';
import type { Shown } from '@tawny-signal/core/people/people';
import { may, type Role } from '@tawny-signal/core/people/roles';
import { PAGES } from './every-page.js';
import { setup } from './setup.js';

const OTHER = '127.0.0.2';
const on = setup();
let shown: Shown;
const other = (path: string): string => `http://${OTHER}:${on.stage.port}/${path}`;

beforeAll(async () => {
  shown = await on.call<Shown>('people/opening', 'PUT', { listen: [OTHER], hereToo: false });
  await on.driver.manage().setTimeouts({ script: 120_000 });
  // What is refused, and what is said on the live connection, is noted with the button that was pressed last.
  await on.before(`
    window.pressed = '';
    window.refused = [];
    window.said = [];
    window.asked = 0;
    const ask = window.fetch;
    window.fetch = async (...given) => {
      const after = window.pressed;
      window.asked++;
      try {
        const response = await ask(...given);
        if (given[1]?.method !== 'GET' && (response.status === 403 || response.status === 423))
          window.refused.push(after + ': ' + response.status + ' ' + given[1]?.method + ' ' + given[0]);
        return response;
      } finally {
        window.asked--;
      }
    };
    const send = WebSocket.prototype.send;
    WebSocket.prototype.send = function (what) {
      if (typeof what === 'string') window.said.push([window.pressed, JSON.parse(what).t]);
      return send.call(this, what);
    };`);
});

/** Presses all that can be pressed on the page that is shown, also what opens meanwhile. @returns the labels; what went wrong, as one text */
const pressAll = (): Promise<string[] | string> =>
  on.driver.executeAsyncScript(`
    const done = arguments[arguments.length - 1];
    const frame = () => new Promise((done) => requestAnimationFrame(() => setTimeout(done)));
    const settled = async () => { do await frame(); while (window.asked > 0); };
    const nameOf = (one) => (one.getAttribute('aria-label') ?? one.textContent).trim().replace(/^Tempo: .*/, 'Tempo');
    const here = location.pathname;
    const pressed = new Set();
    const isMeant = (one) => !one.disabled && !one.closest('a') && !one.hasAttribute('data-row')
      && !/^(Sign out|Unlock|Signed in|Full screen)/.test(nameOf(one)) && !pressed.has(nameOf(one));
    const next = () => {
      const popped = [...document.querySelectorAll('[data-radix-popper-content-wrapper], [role=dialog], [role=alertdialog]')].at(-1);
      const inPopped = popped && [...popped.querySelectorAll('button')].find(isMeant);
      return inPopped ?? [...document.querySelectorAll('button')].find(isMeant);
    };
    (async () => {
      await settled();
      for (let one = next(); one && pressed.size < 200; one = next()) {
        const name = nameOf(one);
        pressed.add(name);
        window.pressed = name;
        one.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true, cancelable: true, pointerId: 1 }));
        one.dispatchEvent(new PointerEvent('pointerup', { bubbles: true, cancelable: true, pointerId: 1 }));
        one.click();
        await settled();
        if (/can’t do that: it takes|The show is locked: nothing/.test(document.querySelector('[data-notice]')?.textContent ?? ''))
          window.refused.push(name + ': said on the page');
        for (let tries = 0; location.pathname !== here && tries < 50; tries++) {
          if (tries % 10 === 0) history.back();
          await frame();
        }
      }
      done([...pressed]);
    })().catch((error) => done('The page could not be pressed: ' + error));`);

/** Presses everything on every page. @returns what was refused */
async function refused(
  role: Role,
  address: (path: string) => string,
  pages: readonly string[] = PAGES,
): Promise<string[]> {
  const all: string[] = [];
  for (const path of pages) {
    await on.driver.get(address(path));
    await on.driver.wait(
      async () => (await on.driver.findElements(By.css('h1, [data-far]'))).length > 0,
      30_000,
    );
    const pressed = await pressAll();
    expect(pressed).toEqual(expect.arrayContaining([path === 'afar' ? 'Whole screen' : 'Tempo']));
    all.push(
      ...(await on.driver.executeScript<string[]>('return window.refused')).map((one) => `${path}: ${one}`),
    );
    const said = await on.driver.executeScript<[string, keyof typeof LIVE_NEEDS][]>('return window.said');
    for (const [button, kind] of said)
      if (!may({ role, standIn: false }, LIVE_NEEDS[kind])) all.push(`${path}: ${button}: live ${kind}`);
  }
  return all;
}

async function signIn(role: Role): Promise<void> {
  await on.driver.manage().deleteAllCookies();
  await on.driver.get(other('prompt'));
  await (await on.page.field('Your name')).sendKeys('Ada');
  await (await on.page.field('Passphrase')).sendKeys(shown[role]!);
  await on.page.press('Sign in');
  await on.page.sees('House to half');
}

test.each(['onlooker', 'caller'] as const)('nothing that a page offers a %s is refused', async (role) => {
  await signIn(role);
  expect(await refused(role, other)).toEqual([]);
});

test('nothing that a page offers while the show is locked is refused', async () => {
  await on.call('desk/locked', 'PUT', { locked: true });
  // Who ends sessions there ends their own too.
  const pages = PAGES.filter((path) => path !== 'people');
  expect(await refused('operator', (path) => `${on.stage.address}${path}`, pages)).toEqual([]);
});
