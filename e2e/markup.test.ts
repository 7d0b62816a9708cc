/** Names of markup, and patterns in the fields that find: on every page they are text, and nothing of them is run. */
import { beforeAll, expect, test } from '@jest/globals';
import { By } from 'selenium-webdriver';
import { until } from '../scripts/test-stage.js';
import { PAGES } from './every-page.js';
import { setup } from './setup.js';

const on = setup();

/** Notes of a route are the notes that it carries; those of a moment are a text. */
const isText = (key: string, value: string): boolean =>
  key === 'name' || (key === 'notes' && !/^(?:any|[\d, -]*)$/.test(value));

/** Runs where it is taken for markup: as an element, in an attribute, or in a template. 48 characters, of the 60 that a name may have. */
const MARKUP = `"'><img src=x onerror=struck=1><script>struck=1`;

/** Every name and note of a show, made of markup, each with a number of its own. */
function struck(value: unknown, count = { of: 0 }): unknown {
  if (Array.isArray(value)) return value.map((one) => struck(one, count));
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, one]) => {
      // The name of a group can have neither a comma nor an equals sign.
      if (key === 'groups') return [key, one];
      return [
        key,
        typeof one === 'string' && isText(key, one) ? `${MARKUP}${++count.of}` : struck(one, count),
      ];
    }),
  );
}

beforeAll(async () => {
  await on.before(`
    window.faults = [];
    addEventListener('error', (event) => window.faults.push(String(event.message)));
    addEventListener('unhandledrejection', (event) => window.faults.push(String(event.reason)));`);
  const show = await on.call<object>('files/show');
  const answer = await fetch(`${on.stage.address}api/files/show`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: JSON.stringify(struck(show)),
  });
  if (!answer.ok) throw new Error(await answer.text());
});

const seen = (): Promise<{ struck: unknown; made: number; faults: string[]; text: string }> =>
  on.driver.executeScript(`return {
    struck: window.struck ?? null,
    made: document.querySelectorAll('img[src="x"], script:not([src]):not([nonce])').length,
    faults: window.faults,
    text: document.body.innerText,
  }`);

test.each([...PAGES, 'order'])('%s', async (path) => {
  await on.page.go(path);
  await until(async () => (await seen()).text.length > 50, 'the page is shown');
  for (const field of await on.driver.findElements(
    By.css('input[type="search"], input[placeholder^="Find"], input[aria-label^="Find"]'),
  )) {
    if (!(await field.isDisplayed())) continue;
    for (const pattern of ['(a+)+$[', '\\', '*', MARKUP]) {
      await field.clear();
      await field.sendKeys(pattern);
    }
  }
  const { struck: ran, made, faults } = await seen();
  expect({ ran, made, faults }).toEqual({ ran: null, made: 0, faults: [] });
});

test('a name of markup is shown as it was written', async () => {
  await on.page.go('mappings');
  await until(async () => (await seen()).text.includes('<img src=x onerror=struck=1>'), 'it is shown');
});
