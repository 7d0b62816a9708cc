/**
 * Lines and routes: one controller for several programs, loops, what a control does when looked at closely. The tests go on from one another, in their
 * order: each finds the show as the one before left it, and one that fails may take those after it along.
 */
import { describe, expect, test } from '@jest/globals';
import { By } from 'selenium-webdriver';
import { until } from '../scripts/test-stage.js';
import { carryPorts, type Carried } from './carried.js';
import { setup } from './setup.js';

const on = setup();

async function call(method: string, path: string, body?: object): Promise<{ id: string }> {
  const response = await fetch(`${on.stage.address}api/${path}`, {
    method,
    ...(body && { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
  });
  const text = await response.text();
  if (!response.ok) throw new Error(text);
  return (text === '' ? { id: '' } : JSON.parse(text)) as { id: string };
}
const remove = (rows: { id: string }[]): Promise<unknown> =>
  Promise.all(rows.map(({ id }) => call('DELETE', `lines/${id}`)));
const inside = (name: string): Promise<{ id: string }> =>
  call('POST', 'lines', { kind: 'midi-inside', name, port: name });
const shown = async (css: string): Promise<boolean> => (await on.driver.findElements(By.css(css))).length > 0;

test('one controller drives two programs at once', async () => {
  await on.standIns();
  await on.page.pad(1);
  await on.arrives('/moment/storm/go', String(Math.fround(100 / 127)));
  const pad = await on.driver.findElement(By.css('[aria-label^="Pad 1, "]'));
  await on.page.press('Lantern rig');
  await on.driver.actions().move({ origin: pad }).press().perform();
  await until(() => shown('[data-slot="40"]'), 'the strobe is up while the pad is held');
  await on.driver.actions().release().perform();
  await until(async () => !(await shown('[data-slot="40"]')), 'and down when it is let go');
});

test('the deck desk’s faders light the rig, through a route from Art-Net to sACN', async () => {
  const fader = await on.driver.findElement(By.css('[aria-label="Deck fader 4"]'));
  await fader.sendKeys('\uE010'); // End: to the top
  await until(() => shown('[data-slot="4"][data-level="255"]'), 'lamp 4 is up');
  await fader.sendKeys('\uE011'); // Home
  await until(async () => !(await shown('[data-slot="4"]')), 'lamp 4 is down');
});

describe('a stand-in that is killed', () => {
  test('is missed on its line, in words, and its coming back is said too', async () => {
    await on.page.go('lines');
    await on.ready();
    process.kill(on.stage.standIns['fog-laser'].pid()!, 'SIGKILL');
    await on.page.sees('“Fog laser” isn’t running. It reconnects automatically.');
    await until(async () => !(await on.page.says('“Fog laser” isn’t running')), 'the line is open again');
  });
});

test('four parts on four channels of one line each reach their own place and no other', async () => {
  const parts = ['Bass', 'Chords', 'Melody', 'Drums'];
  const score = await inside('Four parts');
  const places = await Promise.all(parts.map(inside));
  await Promise.all(
    places.map(({ id }, at) =>
      call('POST', 'routes', { fromId: score.id, toId: id, channels: [{ from: [at, at], to: [0, 0] }] }),
    ),
  );
  const player = await carryPorts(on.stage.port, ['Four parts', ...parts]);
  await on.ready();
  for (let channel = 0; channel < 4; channel++) player.play('Four parts', 0x90 | channel, 40 + channel, 90);
  await until(() => player.sent.length === 4, 'each part arrived');
  expect(player.sent.toSorted()).toEqual(
    parts.map((name, at) => `${name}: 90 ${(40 + at).toString(16)} 5a`).toSorted(),
  );
  player.close();
  await remove([score, ...places]);
});

describe('a loop', () => {
  test('that would be made on purpose is refused at its field, and named', async () => {
    await on.page.go('lines/routes');
    await on.page.press('Add a route');
    await on.page.choose('From', 'Fog laser');
    await on.page.choose('To', 'Fog laser');
    expect(await on.page.problemAt('To')).toContain('This route would feed itself: Fog laser → Fog laser.');
    await on.page.press('Remove route');
  });

  test('from the picture is refused aloud', async () => {
    const left = await on.driver.findElement(
      By.xpath("//ul[@aria-label='Heard on']//button[.='Bell player']"),
    );
    await left.click();
    await on.page.sees('From Bell player to … choose a line on the right.');
    await (
      await on.driver.findElement(By.xpath("//ul[@aria-label='Sent on']//button[.='Bell player']"))
    ).click();
    await on.page.sees('This route would feed itself: Bell player → Bell player.');
  });

  test('that closes outside is cut, said, and offered for restoring', async () => {
    const [from, to] = [await inside('Into the bus'), await inside('Out to the bus')];
    const route = await call('POST', 'routes', { fromId: from.id, toId: to.id });
    // The bus passes back what it gets.
    const bus: Carried = await carryPorts(
      on.stage.port,
      ['Into the bus', 'Out to the bus'],
      (name, bytes) => {
        if (name === 'Out to the bus') bus.play('Into the bus', ...bytes);
      },
    );
    await on.page.go(`lines/routes/${route.id}`);
    await on.ready();
    bus.play('Into the bus', 0xb0, 7, 100);
    await on.page.sees('stopped: a loop');
    const count = bus.sent.length;
    bus.play('Into the bus', 0xb0, 7, 1);
    await on.page.press('Restore');
    await until(async () => !(await on.page.says('stopped: a loop')), 'it is restored');
    expect(bus.sent.length).toBe(count);
    bus.stopEcho();
    bus.play('Into the bus', 0xb0, 7, 2);
    await until(() => bus.sent.at(-1) === 'Out to the bus: b0 7 2', 'it passes again');
    bus.close();
    await remove([from, to]);
  });
});

describe('one control, looked at closely', () => {
  test('a fader with dust in it is found restless, with a deadband that would quiet it', async () => {
    await on.standIns();
    await on.flip('Dust in fader 12');
    await on.page.press('Traffic');
    await on.page.press('One control');
    await until(async () => {
      const button = await on.driver.findElements(By.xpath("//button[contains(., 'Deck desk · slot 12')]"));
      if (button[0]) await button[0].click();
      return (await on.driver.getCurrentUrl()).endsWith('/slot-12');
    }, 'the dusty fader is listed');
    await on.page.sees('Restless');
    await on.page.sees('goes nowhere');
    await on.page.sees('A deadband of 4 would quiet it');
  });

  test('and comes to rest when the dust is gone', async () => {
    await on.page.press('Stand-ins');
    await on.flip('Dust in fader 12');
    await on.page.go('traffic/control/deck-desk/slot-12');
    const still = ['No input yet.', 'At rest'];
    await until(
      async () => (await Promise.all(still.map((words) => on.page.says(words)))).includes(true),
      'it is at rest',
    );
  });
});

test('the keyboard lights, and says what is held', async () => {
  await on.page.go('traffic/keyboard?line=pier-pads');
  await on.page.sees('Nothing is held.');
  const hand = await carryPorts(on.stage.port, ['Pier pads']);
  await on.ready();
  hand.play('Pier pads', 0x99, 36, 97);
  await on.page.sees('note 36 (C2)');
  await on.page.sees('force 97');
  hand.close(); // a hand that is gone holds nothing
  await on.page.sees('Nothing is held.');
});

test('this browser’s keyboard is a line: its keys come in while it is switched on', async () => {
  const made = await call('POST', 'lines', { kind: 'keys-browser', name: 'Keypad' });
  await on.page.go(`lines/${made.id}`);
  await on.page.sees('No browser tab plays its keyboard on this line.');
  await on.flip('Play with this tab’s keyboard');
  await until(async () => !(await on.page.says('No browser tab plays')), 'the line is open');
  await on.driver.executeScript('document.activeElement.blur()');
  await on.page.keys('g');
  await until(async () => (await on.page.lastEvent()).includes('key G'), 'the key came in');
  await on.page.press('Why?');
  await on.page.sees('key G');
  await remove([made]);
});

test.each([
  ['lines/lantern-rig', 'Universe', '64000', 'An sACN universe is a number from 1 to 63999.'],
  ['lines/deck-desk', 'Universe', '40000', 'An Art-Net universe is a number from 0 to 32767.'],
  [
    'lines/routes/score-to-laser',
    'Channels',
    '8-3',
    'The range 8-3 runs backwards: write the lower end first.',
  ],
  ['lines/deck-desk', 'Accept from', 'front of house', 'Write addresses like 192.168.1.20'],
])('%s: “%s” of %s is refused at the field', async (path, label, text, words) => {
  await on.page.go(path);
  await on.page.type(label, text);
  expect(await on.page.problemAt(label)).toContain(words);
});

test('a session of network MIDI says in place what can’t be, who is connected, and lets in who was refused', async () => {
  await on.page.go('lines');
  const house = await call('POST', 'lines', { kind: 'midi-network', name: 'House', session: 'House' });
  const stage = await call('POST', 'lines', { kind: 'midi-network', name: 'Bow', session: 'Bow' });
  await on.page.go(`lines/${house.id}`);
  for (const [field, wrong, words] of [
    ['Session', ' ', '1 to 60 characters'],
    ['Session', 'o'.repeat(300), '1 to 60 characters'],
    ['Ports', '5005', 'begins with an even number'],
    ['Calls', 'http://quay/', 'Write machines like'],
    ['Plays after', 'soon', '1 to 1000 ms'],
  ] as const) {
    await on.page.type(field, wrong);
    expect(await on.page.problemAt(field)).toContain(words);
    await on.driver.navigate().refresh();
    await on.page.sees('May connect');
  }
  const hint = await until(
    async () => /Open at (\d+) and/.exec(await (await on.driver.findElement(By.css('body'))).getText()),
    'its ports are told',
  );
  await on.page.go(`lines/${stage.id}`);
  await on.page.type('Calls', `127.0.0.1:${hint[1]}`);
  await on.page.sees('does not let us in');
  await on.page.go(`lines/${house.id}`);
  await on.page.press('Let them in');
  await until(() => shown('[data-participant="Bow"]'), 'it is connected');
  await remove([house, stage]);
});

test('the front-of-house machine plays right what reaches it over a network that loses, repeats, delays and reorders', async () => {
  await on.page.go('stand-ins/front-of-house');
  await on.page.sees('Connected with “Lantern Pier stage”');
  for (const field of ['Lost', 'Twice', 'Late by up to 60 ms', 'Overtaken by the next'])
    await on.page.type(field, '20');
  await on.page.type('Lost', '120');
  expect(await on.page.problemAt('Lost')).toBe('Write 0 to 100 percent.');
  const score = await inside('Far score');
  await call('POST', 'routes', { fromId: score.id, toId: 'front-of-house' });
  const player = await carryPorts(on.stage.port, ['Far score']);
  await on.ready();
  for (let played = 0; played < 300; played++) {
    const note = 24 + (played % 48);
    player.play('Far score', 0x90, note, 1 + (played % 100));
    player.play('Far score', 0xb0, 7, played % 128);
    player.play('Far score', 0x80, note, 64);
  }
  player.play('Far score', 0x90, 77, 90);
  player.play('Far score', 0xb0, 7, 111);
  await until(
    async () => (await shown('[data-window="77"]')) && (await shown('[data-gauge="7 111"]')),
    'what was played last is there',
  );
  await until(
    async () => (await on.driver.findElements(By.css('[data-window]'))).length === 2,
    'nothing else sounds (the picture is there twice)',
  );
  const text = await (await on.driver.findElement(By.css('body'))).getText();
  expect(Number(/(\d+) were missing/.exec(text)?.[1])).toBeGreaterThan(0);
  player.play('Far score', 0x80, 77, 64);
  await until(async () => !(await shown('[data-window]')), 'it is released');
  for (const field of ['Lost', 'Twice', 'Late by up to 60 ms', 'Overtaken by the next'])
    await on.page.type(field, '0');
  const key = await on.page.button('Note 61');
  await on.driver.actions().move({ origin: key }).press().perform();
  await until(
    async () => (await on.page.lastEvent()).includes('note 61 (C#4) ch 1 pressed'),
    'it plays back',
  );
  await on.driver.actions().release().perform();
  await on.page.press('Traffic');
  await on.page.sees('note 61 (C#4) ch 1 released');
  player.close();
  await remove([score]);
});

test('a browser whose clock is an hour ahead shows what passes, and for how long, by the clock of the server', async () => {
  await on.before('const real = Date.now; Date.now = () => real() + 3_600_000;');
  await on.page.go('stand-ins/score-player');
  await on.page.press('Start');
  await on.page.press('Lines');
  await on.page.press('Routes');
  const thin = 1.5;
  await until(async () => {
    const streams = await on.driver.findElements(By.css('[data-stream]'));
    const widths = await Promise.all(streams.map((stream) => stream.getAttribute('stroke-width')));
    return widths.some((width) => Number(width) > thin);
  }, 'a stream is as wide as what passes');
  await on.page.go('lines/front-of-house');
  await until(
    async () => /called by us, for \d+ (s|min)/.test(await on.driver.findElement(By.css('main')).getText()),
    'it is said for how long it is connected',
  );
});
