/**
 * Two people at one show, in two browsers: the second one comes in through a second loopback address, which stands for another machine. The tests go
 * on from one another, in their order.
 */
import { createServer, connect, type AddressInfo, type Socket } from 'node:net';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import type { Show } from '@tawny-signal/core/show';
import type { Shown } from '@tawny-signal/core/people/people';
import { momentName } from '@tawny-signal/core/show/moment-name';
import { until } from '../scripts/test-stage.js';
import { openBrowser, type Browser } from './browser.js';
import { FAKE_MIDI } from './fake-midi.js';
import { openPage, type Page } from './page.js';
import { setup } from './setup.js';

const OTHER = '127.0.0.2';
const on = setup();
let browser: Browser;
let juno: Page;
let operator: string;

beforeAll(async () => {
  const shown = await on.call<Shown>('people/opening', 'PUT', { listen: [OTHER], hereToo: false });
  operator = shown.operator!;
  browser = await openBrowser(1100, 800);
  juno = openPage(browser.driver, () => `http://${OTHER}:${on.stage.port}/`);
  // A page from another machine that is not encrypted has no MIDI of its own; this one is made up.
  const tools = browser.driver as unknown as {
    sendDevToolsCommand(name: string, args: object): Promise<void>;
  };
  await tools.sendDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', { source: FAKE_MIDI });
});
afterAll(() => browser.close());

async function signIn(path: string): Promise<void> {
  await browser.driver.get(`http://${OTHER}:${on.stage.port}/${path}`);
  await (await juno.field('Your name')).sendKeys('Juno');
  await (await juno.field('Passphrase')).sendKeys(operator);
  await juno.press('Sign in');
}

/** What a moment is called now, with its number in the running order: `2 · Slack water`. */
async function called(id: string): Promise<string> {
  const { show } = await on.call<{ show: Show }>('show');
  return momentName(show.moments.find((moment) => moment.id === id)!);
}
const nameOf = async (id: string): Promise<string | undefined> =>
  (await on.call<{ show: Show }>('show')).show.moments.find((moment) => moment.id === id)?.name;

test('each sees who is here and where, and goes to where the other is', async () => {
  await on.page.go('traffic');
  await signIn('order/slack-water');
  await juno.sees('Slack water');
  await on.page.press('Here now: 2 pages');
  await on.page.sees(`Running order: ${await called('slack-water')}`);
  const row = await on.driver.findElement(By.css('[data-here="Juno"]'));
  await until(async () => / \d+ ms/.test((await row.getText()).replaceAll('\n', ' ')), 'its way is measured');
  expect(await row.getText()).toContain('operator');
  await on.page.press('Go to where Juno is');
  await until(
    async () => (await on.driver.getCurrentUrl()).endsWith('/order/slack-water'),
    'the page is where Juno is',
  );
  await on.page.sees('Juno is here too');
});

test('each sees in which field the other writes; the later change wins, and the other is told and can put theirs back', async () => {
  await (await juno.field('Name')).click();
  await on.page.sees('Juno writes in “Name”');
  await (await juno.field('Name')).sendKeys(' high');
  await on.page.type('Name', 'Slack tide');
  await until(async () => (await nameOf('slack-water')) === 'Slack tide', 'it is saved');
  // Before the field is left: what is typed stays, or theirs is taken.
  await juno.sees('Somebody has changed it to “Slack tide” meanwhile. Enter keeps yours, Esc takes theirs.');
  expect(await (await juno.field('Name')).getAttribute('value')).toBe('Slack water high');
  await juno.keys(Key.ESCAPE);
  expect(await (await juno.field('Name')).getAttribute('value')).toBe('Slack tide');
  expect(await juno.says('meanwhile')).toBe(false);
  await juno.type('Name', 'Still water');
  await until(async () => (await nameOf('slack-water')) === 'Still water', 'the later change is saved');
  const row = await called('slack-water');
  await on.page.sees(`Juno has changed “name” of ${row} from your Slack tide to Still water.`);
  await on.page.press('Put mine back');
  await until(async () => (await nameOf('slack-water')) === 'Slack tide', 'it is put back');
  await juno.sees('A browser of the server’s machine has changed “name”');
  // Another field of the same row is told to nobody.
  await on.page.type('Notes', 'slowly');
  await juno.type('Name', 'Slack water');
  await on.page.sees('from your Slack tide to Slack water.');
});

test('a line says in whose browser its port is', async () => {
  await juno.go('lines');
  await juno.press('Allow MIDI');
  await juno.sees('Nothing is plugged in.');
  await browser.driver.executeScript("window.fakeMidi.plug('Far keys')");
  await juno.press('Use as a line');
  await juno.sees('is the line Far keys');
  await juno.sees('in this browser');
  await on.driver.get(await browser.driver.getCurrentUrl().then((url) => url.replace(OTHER, '127.0.0.1')));
  await on.page.sees('in the browser of Juno');
  await on.page.go('people');
  await on.page.sees('plugged in: Far keys');
  await browser.driver.executeScript("window.fakeMidi.unplug('Far keys')");
  await until(async () => !(await on.page.says('plugged in: Far keys')), 'it is unplugged');
});

/** Carries TCP between the page and the server, or nothing at all, as a network does that has gone: no connection is ended. */
async function openNetwork(
  target: number,
): Promise<{ port: number; works(yes: boolean): void; close(): void }> {
  const sockets = new Set<Socket>();
  let working = true;
  const server = createServer((from) => {
    const to = connect(target, '127.0.0.1');
    for (const [one, other] of [
      [from, to],
      [to, from],
    ] as const) {
      sockets.add(one);
      one.on('data', (bytes) => other.write(bytes));
      one.on('error', () => undefined);
      one.on('close', () => {
        sockets.delete(one);
        other.destroy();
      });
      if (!working) one.pause();
    }
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return {
    port: (server.address() as AddressInfo).port,
    works(yes) {
      working = yes;
      for (const socket of sockets)
        if (yes) socket.resume();
        else socket.pause();
    },
    close() {
      for (const socket of sockets) socket.destroy();
      server.close();
    },
  };
}

test('where the network goes without a word, both sides see it, what is held there is released, and the page comes back', async () => {
  await on.page.go('people');
  const network = await openNetwork(on.stage.port);
  try {
    await browser.driver.get(`http://127.0.0.1:${network.port}/stand-ins`);
    await juno.sees('Pier pads');
    const pads = async (): Promise<string[]> => {
      const seen = await on.driver.findElements(By.css('[data-here]'));
      return Promise.all(seen.map((one) => one.getText()));
    };
    const isListed = async (): Promise<boolean> => (await pads()).some((text) => text.includes('Stand-ins'));
    await until(isListed, 'it is here');
    network.works(false);
    await juno.sees('No connection to the server since');
    await until(async () => !(await isListed()), 'it is not here any more');
    network.works(true);
    await until(async () => !(await juno.says('No connection to the server')), 'the page is connected again');
    await until(isListed, 'it is here again');
  } finally {
    network.close();
  }
});
