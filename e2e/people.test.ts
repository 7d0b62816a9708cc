/**
 * The page opened to another machine: a second loopback address stands for it. The tests go on from one another, in their order: each finds the other
 * machine as the one before left it, and one that fails may take those after it along.
 */
import { X509Certificate } from 'node:crypto';
import { beforeAll, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import type { PeopleSeen, Shown } from '@tawny-signal/core/people/people';
import { until } from '../scripts/test-stage.js';
import { FAKE_MIDI } from './fake-midi.js';
import { setup } from './setup.js';

const OTHER = '127.0.0.2';

/** Chromium trusts the certificate whatever it is, as a browser does after its warning; that it is right is checked by server/people/certificate. */
const on = setup(() => Promise.resolve(['--ignore-certificate-errors']));
let shown: Shown;

/** Opens the page at the other address, or closes it, by the page of this machine, which is the operator's. */
const openTo = (...listen: string[]): Promise<Shown> =>
  on.call<Shown>('people/opening', 'PUT', { listen, hereToo: false });
const other = (path: string, scheme = 'http'): string => `${scheme}://${OTHER}:${on.stage.port}/${path}`;
const people = (): Promise<PeopleSeen> => on.call<PeopleSeen>('people');

async function signIn(path: string, name: string, passphrase: string): Promise<void> {
  await on.driver.get(other(path));
  await (await on.page.field('Your name')).sendKeys(name);
  await (await on.page.field('Passphrase')).sendKeys(passphrase);
  await on.page.press('Sign in');
}

async function signOut(): Promise<void> {
  await (
    await until(
      async () => (await on.driver.findElements(By.css('[aria-label^="Signed in: "]')))[0],
      'who is signed in',
    )
  ).click();
  await on.page.press('Sign out');
  await on.page.field('Your name');
}

const calls = async (): Promise<{ name: string; askedBy: string }[]> => {
  const { current } = await on.call<{ current: { id: string } | null }>('log');
  if (!current) return [];
  const entries = await on.call<{ what: string; name: string; askedBy: string }[]>(`log/${current.id}`);
  return entries.filter(({ what }) => what === 'called');
};

beforeAll(async () => {
  shown = await openTo(OTHER);
});

test('another machine signs in, and is told what is wrong', async () => {
  await signIn('prompt', 'Mara', 'not the passphrase');
  await on.page.sees('That passphrase is not right.');
  expect(await on.page.says('House to half')).toBe(false);
  await signIn('prompt', 'Mara', shown.caller!);
  await on.page.sees('House to half');
  const { sessions } = await people();
  expect(sessions).toMatchObject([{ name: 'Mara', role: 'caller', here: true }]);
});

test('a caller calls, which the log says; and edits nothing', async () => {
  await on.page.press('Go');
  await until(async () => (await calls()).length === 1, 'it is called');
  expect(await calls()).toMatchObject([{ name: 'House to half', askedBy: 'by hand at Mara' }]);
  await on.driver.get(other('order/slack-water'));
  const name = await on.page.field('Name');
  expect(await name.getAttribute('readonly')).not.toBeNull();
  expect(await name.getAttribute('title')).toContain('Only operators change the show');
});

test('a page that is cut off says since when; a press meanwhile is called once, or said to be late', async () => {
  await on.driver.get(other('prompt'));
  await on.page.sees('Slack water');
  const before = (await calls()).length;
  await openTo();
  await on.page.sees('No connection to the server since');
  await on.page.keys(Key.ENTER);
  await openTo(OTHER);
  const refused = (): Promise<boolean> =>
    Promise.all([on.page.says('late. Press again.'), on.page.says('Not done: the server')]).then((said) =>
      said.includes(true),
    );
  await until(async () => (await calls()).length > before || (await refused()), 'the press is answered');
  await until(async () => !(await on.page.says('No connection')), 'the page is connected again');
  const called = (await calls()).length - before;
  expect(called).toBe((await refused()) ? 0 : 1);
  await on.page.press('Go');
  await until(async () => (await calls()).length === before + called + 1, 'the next Go is called');
});

test('a session that is ended asks for a passphrase again', async () => {
  const [mara] = (await people()).sessions;
  await on.call(`people/sessions/${mara!.id}`, 'DELETE');
  await on.page.field('Passphrase');
});

test('a controller of another machine plays the show', async () => {
  await on.before(FAKE_MIDI);
  await signIn('lines', 'Juno', shown.operator!);
  await on.page.press('Allow MIDI');
  await on.page.sees('Nothing is plugged in.');
  await on.driver.executeScript("window.fakeMidi.plug('Far keys')");
  await on.page.press('Use as a line');
  await on.page.sees('is the line Far keys');
  await on.page.press('Mappings');
  await on.page.press('Learn');
  await on.page.sees('Press a pad or move a fader.');
  await until(async () => !(await on.page.says('waiting')), 'the line is open');
  await on.driver.executeScript("window.fakeMidi.play('Far keys', 0xb0, 74, 12)");
  await until(
    async () => /\/mappings\/[\w-]{6,}/.test(await on.driver.getCurrentUrl()),
    'a mapping is made for it',
  );
  await on.page.chooseIn('Send', 'Line', 'Water screen');
  await on.page.type('Address', '/far/keys');
  const isSaved = async (): Promise<boolean> =>
    JSON.stringify((await on.call<{ show: object }>('show')).show).includes('/far/keys');
  await until(isSaved, 'the address is saved');
  await on.driver.executeScript("window.fakeMidi.play('Far keys', 0xb0, 74, 127)");
  const last = async (): Promise<boolean> =>
    (await on.page.lastEvent()).includes('Far keys CC 74 ch 1 = 127 → Water screen /far/keys 1');
  await until(last, 'it is sent to the water screen');
  // Much at once comes to another machine compressed.
  await on.driver.executeScript(
    "for (let value = 0; value < 100; value++) window.fakeMidi.play('Far keys', 0xb0, 74, value)",
  );
  await until(
    async () => (await on.page.lastEvent()).includes('CC 74 ch 1 = 99'),
    'the last of many is shown',
  );
  const edits = await on.call<{ label: string; by: string }[]>('edits?most=5');
  expect(edits.map(({ by }) => by)).toContain('Juno');
  await signOut();
});

test('a code lets a phone in as an onlooker, who sees everything and sends nothing', async () => {
  const { code } = await on.call<{ code: string }>('people/codes', 'POST', { role: 'onlooker' });
  await on.driver.manage().window().setRect({ width: 390, height: 844 });
  await on.driver.get(other(`prompt#code=${code}`));
  await (await on.page.field('Your name')).sendKeys('Paul');
  await on.page.press('Sign in');
  await on.page.sees('You are an onlooker: you see everything, and send nothing.');
  expect(await on.driver.findElements(By.xpath("//button[normalize-space()='Go']"))).toEqual([]);
  const panic = await on.page.button('Panic');
  expect(await panic.isEnabled()).toBe(false);
  const before = (await calls()).length;
  await on.page.keys(Key.ENTER);
  await on.page.sees('An onlooker can’t do that: it takes a caller.');
  expect((await calls()).length).toBe(before);
});

test('the menu of the show has a code for the camera of a phone', async () => {
  await on.driver.manage().window().setRect({ width: 1280, height: 900 });
  await on.page.go('prompt');
  await on.page.press('Show: The Lantern Pier');
  await on.page.press('Bring a phone here');
  await on.page.press('Show a code');
  await on.page.sees('Lets one browser in as caller, for ');
});

test('the operator sees who is here, makes a passphrase and ends a session', async () => {
  await on.page.go('people');
  await on.page.sees('Paul');
  await on.page.press('New passphrase for caller');
  await on.page.sees('Write these down now: they are shown once.');
  await on.page.press('I have them');
  // Enter saves, and leaving the field meanwhile does not save it again: a second passphrase would end the first.
  await on.driver.executeScript(`
    window.added = 0;
    const ask = window.fetch;
    window.fetch = (...given) => {
      if (given[1]?.method === 'POST') window.added++;
      return ask(...given);
    };`);
  await (await on.page.field('Add')).sendKeys('Nora', Key.ENTER, Key.TAB);
  await on.page.sees('Write these down now: they are shown once.');
  await on.page.press('I have them');
  expect(await on.driver.executeScript('return window.added')).toBe(1);
  await on.page.choose('Role', 'onlooker: sees everything, and sends nothing');
  await on.page.press('End the session of Paul');
  await until(async () => (await people()).sessions.length === 0, 'nobody is signed in');
  await on.page.sees('Nobody yet.');
});

test('encrypted, another machine signs in, follows, and is asked whether MIDI may be used', async () => {
  await on.page.go('people');
  await on.flip('Encrypt what other machines are served (TLS)');
  await on.page.sees('SHA-256');
  await on.page.sees(`https://${OTHER}:`);
  const { certificate } = await people();
  await on.page.sees(certificate!.fingerprint);
  await on.driver.get(other('lines', 'https'));
  await on.page.field('Your name');
  await on.page.press('The browser warned of this page?');
  await on.page.sees('Manage certificates, and import it as trusted.');
  const authority = await on.driver.executeScript<string>(
    "return fetch(document.querySelector('a[href*=authority]').href).then((response) => response.text())",
  );
  expect(new X509Certificate(authority).ca).toBe(true);
  await on.driver.get(other('lines', 'https'));
  await (await on.page.field('Your name')).sendKeys('Juno');
  await (await on.page.field('Passphrase')).sendKeys(shown.operator!);
  await on.page.press('Sign in');
  await on.page.press('Allow MIDI');
  await on.page.sees('Nothing is plugged in.');
  expect(await on.driver.executeScript('return isSecureContext && location.protocol')).toBe('https:');
  const cookies = await on.driver.manage().getCookies();
  expect(cookies.find(({ name }) => name.startsWith('__Host-tawny-'))).toMatchObject({
    secure: true,
    httpOnly: true,
  });
});
