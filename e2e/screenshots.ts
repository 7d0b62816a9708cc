/** `npm run screenshots`: takes the pictures of the README while the demo is played. */
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key } from 'selenium-webdriver';
import WebSocket from 'ws';
import type { FromClient } from '@tawny-signal/core/live/messages';
import type { Shown } from '@tawny-signal/core/people/people';
import { buildAll, ROOT } from '../scripts/build.js';
import { startCluster } from '../scripts/postgres.js';
import { DATABASES, openTestStage, until } from '../scripts/test-stage.js';
import { openBrowser } from './browser.js';
import { carryPorts } from './carried.js';
import { openPage } from './page.js';

const temporary = mkdtempSync(join(tmpdir(), 'tawny-pictures-'));
chmodSync(temporary, 0o711);
const [cluster] = await Promise.all([startCluster(temporary, { careless: true }), buildAll()]);
process.env[DATABASES] = cluster.ownerUrl('DATABASE');
const stage = await openTestStage();
const browser = await openBrowser();
const { driver } = browser;
const page = openPage(driver, () => stage.address);

async function picture(name: string): Promise<void> {
  writeFileSync(join(ROOT, 'docs/screenshots', `${name}.png`), await driver.takeScreenshot(), 'base64');
}
async function fader(number: number, steps: number): Promise<void> {
  const input = await driver.findElement(By.css(`[aria-label^="Fader ${number}, "]`));
  await input.sendKeys(...Array.from({ length: steps }, () => Key.ARROW_RIGHT));
}

/** Opens the page to other machines, from which two people come. A second loopback address stands for those machines. */
async function people(): Promise<void> {
  const at = `127.0.0.2:${stage.port}`;
  const ask = (url: string, method: string, body: object): Promise<Response> =>
    fetch(url, { method, headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
  const opening = { listen: ['127.0.0.2'], hereToo: false };
  const shown = (await (await ask(`${stage.address}api/people/opening`, 'PUT', opening)).json()) as Shown;
  for (const [name, role, path] of [
    ['Mara', 'caller', '/prompt'],
    ['Juno', 'operator', '/lines/front-of-house'],
  ] as const) {
    const signedIn = await ask(`http://${at}/api/people/sign-in`, 'POST', { name, passphrase: shown[role] });
    const Cookie = (signedIn.headers.get('set-cookie') ?? '').split(';')[0]!;
    const agent = role === 'caller' ? 'Safari (iPad)' : 'Firefox (Linux)';
    const socket = new WebSocket(`ws://${at}/live`, { headers: { Cookie, 'User-Agent': agent } });
    await new Promise((done) => socket.on('open', done));
    const say = (message: FromClient): void => socket.send(JSON.stringify(message));
    say({
      t: 'here',
      page: role === 'caller' ? 'aaaaaaaa' : 'bbbbbbbb',
      name,
      path,
      field: null,
      hidden: false,
      lists: false,
    });
    if (role === 'operator')
      say({ t: 'ports', ports: [{ kind: 'midi-browser', name: 'Far keys', in: true, out: true }] });
    others.push(socket);
  }
}
const others: WebSocket[] = [];

try {
  await page.go('start');
  await until(async () => !(await page.says('waiting')), 'every line is open');
  await page.pad(1);
  await driver.sleep(300);
  await picture('start');
  await page.go('stand-ins');
  await until(async () => !(await page.says('waiting')), 'every line is open');
  await page.press('Start');
  for (const number of [2, 5, 8, 11]) {
    const lamp = await driver.findElement(By.css(`[aria-label="Deck fader ${number}"]`));
    await lamp.sendKeys(Key.END);
  }
  await fader(3, 90);
  await fader(1, 70);
  await fader(2, 60);
  const lamp = await driver.findElement(By.css('[aria-label^="Pad 3, "]'));
  await driver.actions().move({ origin: lamp }).press().perform();
  await driver.sleep(600);
  const storm = await driver.findElement(By.css('[aria-label^="Pad 1, "]'));
  await driver.executeScript(
    "arguments[0].dispatchEvent(new KeyboardEvent('keydown', { key: ' ', bubbles: true }))",
    storm,
  );
  await driver.sleep(350);
  await picture('stand-ins');
  await driver.executeScript(
    "arguments[0].dispatchEvent(new KeyboardEvent('keyup', { key: ' ', bubbles: true }))",
    storm,
  );
  await page.press('Mappings');
  await page.open('Score moves the tide');
  await driver.sleep(1500);
  await picture('mappings');
  await page.press('Motion');
  await page.open('Lens turns');
  await driver.sleep(6500);
  await picture('motion');
  await page.press('Daylight theme');
  await page.press('Lines');
  await page.open('Front of house');
  await page.sees('called by us');
  await driver.sleep(12_000);
  await picture('lines');
  await page.press('Dark theme');
  await page.go('stand-ins');
  await until(async () => !(await page.says('waiting')), 'every line is open');
  await page.press('Stop');
  await driver.sleep(2500);
  await page.press('Mappings');
  await page.press('Learn');
  const hand = await carryPorts(stage.port, ['Pier pads']);
  hand.play('Pier pads', ...[0x99, 60, 11, 0xa9, 60, 50, 0x89, 60, 0, 0x99, 60, 118, 0x89, 60, 0]);
  await page.sees('pressed (force 11 to 118)');
  await driver.sleep(600);
  await page.press('Done');
  await page.go('stand-ins/lantern-rig');
  hand.play('Pier pads', 0x98, 36, 90, 0x88, 36, 0);
  await until(async () => (await page.lastEvent()).includes('nothing sent'), 'nothing was sent');
  await page.press('Why?');
  await driver.sleep(400);
  await picture('why');
  hand.close();
  await page.go('mappings/layouts');
  await page.press('Pad 3, Lamp lit +1');
  await driver.sleep(500);
  await picture('layouts');
  await page.go('mappings/preflight');
  await driver.sleep(600);
  await picture('preflight');
  await page.go('stand-ins');
  await page.press('Start');
  await page.go('lines/routes');
  await page.open('Score player');
  await driver.sleep(1200);
  await picture('routes');
  await page.go('stand-ins');
  const dust = By.css('[role="switch"][aria-label="Dust in fader 12"]');
  await (await until(async () => (await driver.findElements(dust))[0], 'the deck desk')).click();
  await page.go('traffic/control/deck-desk/slot-12');
  await driver.sleep(9000);
  await picture('control');
  await page.go('order');
  await page.press('Go');
  await driver.sleep(1500);
  await page.press('Go');
  await driver.sleep(2500);
  await picture('running-order');
  await page.press('Prompt desk');
  await page.press('Go');
  await driver.sleep(2500);
  await picture('prompt-desk');
  await page.go('afar');
  await driver.sleep(1500);
  await picture('afar');
  await page.go('order/looks');
  await driver.sleep(600);
  await picture('looks');
  const post = (path: string, body: object): Promise<Response> =>
    fetch(`${stage.address}api/${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', 'X-Desk-Name': encodeURIComponent('Front of house') },
      body: JSON.stringify(body),
    });
  const order = ['house-to-half', 'slack-water', 'fog-bank', 'storm-glass', 'lamp-lit'];
  for (const [name, paces] of [
    ['Dress rehearsal', [1500, 2600, 900, 1200, 0]],
    ['First night', [1900, 2000, 1300, 1100, 0]],
  ] as const) {
    await post('log/begin', { name });
    for (const [at, id] of order.entries()) {
      await post('desk/order', { do: 'call', id });
      await driver.sleep(paces[at]!);
    }
  }
  await driver.sleep(1500);
  await page.go('prompt/log');
  await driver.sleep(2500);
  await picture('log');
  await post('versions', { name: 'Before the dress rehearsal' });
  await post('versions', { name: 'After the first night' });
  const { openId } = (await (await fetch(`${stage.address}api/shows`)).json()) as { openId: string };
  await post(`shows/${openId}/copy`, {});
  await page.go('shows');
  await page.sees('After the first night');
  await driver.sleep(600);
  await picture('shows');
  await page.go('stand-ins');
  await page.type('Set to', '01:00:22:00');
  await page.press('Start the tide clock');
  await page.press('Start the MIDI clock');
  await page.go('time');
  await driver.sleep(15_000);
  await picture('time');
  await page.go('stand-ins');
  await page.press('Stop the tide clock');
  await page.press('Stop the MIDI clock');
  await people();
  await page.go('people');
  await page.sees('Far keys');
  await driver.sleep(2500);
  await picture('people');
  await page.press('Traffic');
  const raw = By.css('[role="switch"][aria-label="Raw bytes"]');
  await (await until(async () => (await driver.findElements(raw))[0], 'the traffic page')).click();
  await driver.sleep(900);
  await picture('traffic');
} finally {
  for (const socket of others) socket.terminate();
  await browser.close();
  await stage.stop();
  await cluster.stop();
  rmSync(temporary, { recursive: true, force: true });
}
