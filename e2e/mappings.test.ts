/**
 * What mappings do: several sends, conditions, Learn, Spread, Preflight, Why? The tests go on from one another, in their order: each finds the show as
 * the one before left it, and one that fails may take those after it along.
 */
import { describe, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

const on = setup();

const shown = async (css: string): Promise<boolean> => (await on.driver.findElements(By.css(css))).length > 0;
const hold = async (pad: number): Promise<void> => {
  const button = await on.driver.findElement(By.css(`[aria-label^="Pad ${pad}, "]`));
  await on.driver.actions().move({ origin: button }).press().perform();
};
const letGo = (): Promise<void> => on.driver.actions().release().perform();
/** A field of one of the three parts of the open mapping: some labels stand in two of them. */
const inPart = async (part: string, label: string): Promise<void> => {
  const field = By.xpath(`//section[@aria-label='${part}']//label[.='${label}']`);
  const id = await (
    await until(async () => (await on.driver.findElements(field))[0], label)
  ).getAttribute('for');
  await (await on.driver.findElement(By.id(id!))).click();
};

describe('a mapping that sends several things', () => {
  test('drives another program too, from one press', async () => {
    await on.page.go('mappings/storm-go');
    await on.page.press('Add a send');
    await inPart('Send', 'Line');
    await on.page.press('Lantern rig');
    await on.page.type('Slot', '43');
    await on.page.sees('/moment/storm/go and 1 more');
    await on.page.go('stand-ins/lantern-rig');
    await on.ready();
    await on.page.pad(1);
    await until(() => shown('[data-slot="43"]'), 'the strobe is up');
    await on.page.press('Water screen');
    await on.arrives('/moment/storm/go', String(Math.fround(100 / 127)));
  });
});

test('a pad held repeats a key, and lets go', async () => {
  await on.page.go('mappings/pan-left');
  await on.page.choose('While held', 'Repeat while held');
  await on.page.type('Repeat every', '60 ms');
  await on.page.sees('repeats every 60 ms while held');
  await on.page.go('stand-ins/quay-stream');
  await on.ready();
  const downs = async (): Promise<number> =>
    (
      await on.driver.findElements(
        By.xpath("//li[@data-got][contains(., 'ArrowLeft') and contains(., 'down')]"),
      )
    ).length;
  await hold(9);
  await until(async () => (await downs()) >= 4, 'it is pressed again and again');
  await letGo();
  await until(() => shown('[data-got]:first-child'), 'it received');
  await until(
    async () => (await on.driver.findElement(By.css('[data-got]')).getText()).includes('up'),
    'the last is that it came up',
  );
});

test('a fader that toggles switches with each press, and a list walks on', async () => {
  await on.page.go('mappings/lamp');
  await on.page.choose('Output', 'Toggle between the ends');
  await on.page.sees('toggles 0–1');
  await on.standIns();
  await on.page.pad(3);
  await on.arrives('/lantern/glow', '1');
  await on.page.pad(3);
  await on.arrives('/lantern/glow', '0');
});

test('a mapping is heeded only while a shift pad is held', async () => {
  await on.page.go('mappings/bell-four');
  await on.page.press('Only …');
  await on.page.press('While a pad is held');
  await on.page.type('While held', '50');
  await on.page.sees('while note 50 (D3) ch 10 is held');
  await on.page.go('stand-ins/bell-player');
  await on.ready();
  const rung = async (): Promise<string> =>
    (await (await on.driver.findElement(By.css('section [data-bell="4"]'))).getAttribute('data-rung')) ?? '';
  const before = await rung();
  await on.page.pad(6);
  await until(async () => (await on.page.lastEvent()).includes('note 41'), 'it passed');
  expect(await rung()).toBe(before);
  await hold(15);
  await on.page.pad(6);
  await until(async () => (await rung()) !== before, 'the bell rings');
  await letGo();
});

describe('why nothing was sent', () => {
  test('a muted line and a safe show are named, with the button that changes it', async () => {
    await on.page.go('mappings');
    await on.call('lines/water-screen', 'PATCH', { muted: true });
    const says = (words: string) => async (): Promise<boolean> => {
      await on.playElsewhere(0x99, 36, 90);
      return (await on.page.lastEvent()).includes(words);
    };
    await until(says('withheld, Water screen is muted'), 'what is muted is named');
    await on.page.press('Why?');
    await on.page.sees('Withheld: Water screen is muted.');
    await on.page.press('Unmute Water screen');
    await on.page.keys(Key.ESCAPE);
    await until(async () => !(await says('withheld')()), 'it is sent');
    await on.call('desk/armed', 'PUT', { armed: false });
    await until(says('withheld, the show is safe'), 'it is said that the show is safe');
    await on.page.press('Why?');
    await on.page.sees('Withheld: the show is safe.');
    await on.page.press('Arm the show');
    await on.page.keys(Key.ESCAPE);
    await until(async () => !(await says('withheld')()), 'it is sent');
  });

  test('what a control does to the show itself is said', async () => {
    const hear = {
      message: 'pressed',
      lineId: 'pier-pads',
      channels: [5, 5],
      numbers: [90, 90],
      values: 'any',
    };
    const sends = [
      { kind: 'tap', lineId: null },
      { kind: 'bank', lineId: null, bankId: 'storm-glass', act: 'on' },
      { kind: 'call', lineId: null, momentId: 'house-to-half', act: 'stop' },
    ];
    const { id } = await on.call<{ id: string }>('mappings', 'POST', { hear, sends });
    await on.playElsewhere(0x95, 90, 90);
    const done = /tapped: [0-9.]+, bank Storm glass on, stopped .*House to half/;
    await until(async () => done.test(await on.page.lastEvent()), 'all three are said');
    await on.call(`mappings/${id}`, 'DELETE');
  });

  test('a press on the wrong channel is explained, and mended from there', async () => {
    await on.standIns();
    await on.playElsewhere(0x98, 36, 90); // channel 9: counted from 0 somewhere
    await until(async () => (await on.page.lastEvent()).includes('nothing sent'), 'nothing was sent');
    await on.page.press('Why?');
    await on.page.sees('wanted channel 10, got 9: are channels counted from 0 there?');
    await on.page.press('Set its channel to 9');
    await until(async () => {
      await on.playElsewhere(0x98, 36, 127);
      return (await on.page.received('/moment/storm/go')) === '1';
    }, 'now it fires');
    await on.page.sees('Changed. Press again.');
    await on.page.keys('\uE00C');
    await on.page.press('Undo: Change Storm glass breaks');
  });
});

test('the deadband that quiets a dusty fader is set from where it is found', async () => {
  // The dusty slot is heard by a mapping of its own.
  const response = await fetch(`${on.stage.address}api/mappings`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({
      hear: { message: 'slot', lineId: 'deck-desk', slots: [12, 12], values: 'any' },
      name: 'Dusty',
    }),
  });
  const { id } = (await response.json()) as { id: string };
  await on.standIns();
  await on.flip('Dust in fader 12');
  await on.page.go('traffic/control/deck-desk/slot-12');
  await on.page.sees('Restless');
  // The dust may turn out to reach further than it had until the first press.
  await until(async () => {
    if (await on.page.says('Its mappings have this deadband.')) return true;
    await on.page.press('Set it for Dusty').catch(() => undefined);
    return false;
  }, 'the deadband covers the dust');
  await on.page.go(`mappings/${id}`);
  await on.page.sees('deadband');
});

describe('Learn', () => {
  /** Presses Learn, and waits until the page is connected and listens. */
  async function learn(): Promise<void> {
    await on.page.press('Learn');
    await on.page.sees('Press a pad or move a fader.');
  }
  /** Several messages, from another place that plays the pads. */
  const play = (...bytes: number[]): Promise<void> => on.playElsewhere(...bytes);
  /** The message that the open mapping hears. */
  const message = (words: string): Promise<unknown> =>
    until(
      async () =>
        (await on.driver.findElement(By.css('section[aria-label="Hear"]')).getText()).includes(words),
      `the mapping hears ${words}`,
    );
  const hears = (part: string): Promise<unknown> =>
    until(() => on.page.says(part), `the mapping hears ${part}`);

  test('takes the press of a pad, and offers the others a key away', async () => {
    await on.page.go('mappings');
    await learn();
    await play(0x99, 60, 11, 0xa9, 60, 50, 0x89, 60, 0, 0x99, 60, 118, 0x89, 60, 0);
    await on.page.sees('pressed (force 11 to 118)');
    await hears('note 60 ch 10');
    await message('Note pressed');
    await on.page.keys('2');
    await message('Note held');
    await on.page.keys('1');
    await message('Note pressed');
  });

  test('makes a range of the first and the last pad', async () => {
    await on.page.keys('r');
    await on.page.sees('Touch the last control …');
    await play(0x99, 67, 90, 0x89, 67, 0);
    await hears('note 60-67 ch 10');
    await on.page.press('Done');
  });

  test('knows a dial by what it sends, and goes on to the next control without the mouse', async () => {
    await on.page.go('mappings');
    await learn();
    await play(0xb0, ...[1, 1, 1, 127, 127, 127].flatMap((value) => [74, value]));
    await on.page.sees('turns, a dial without ends (1 up, 127 down)');
    await hears('a dial’s steps');
    await on.page.keys('n');
    await play(0xb0, 75, 127, 75, 0);
    await on.page.sees('pressed: a button');
    await hears('cc 75 ch 1');
    await on.page.keys('\uE00C');
    expect(await on.page.says('Learn several (N)')).toBe(false);
  });
});

describe('Spread', () => {
  test('types an octave into the quay stream, by the notes F2 to F3', async () => {
    await on.page.go('mappings');
    await on.page.press('Spread a range');
    await on.page.type('Notes', 'F2-F3');
    await on.page.choose('To line', 'Quay stream');
    await on.page.sees('13 controls want 13 keys; 0 are chosen.');
    await on.page.press('Type the keys here, one after another');
    await on.page.keys(...'qwertyuiopasd');
    await on.page.press('Make 13 mappings');
    await on.page.button('Undo: Spread over 13 mappings'); // made, though the sheet shows its first rows
    await on.page.keys('/');
    await on.page.keys('key D');
    await on.page.sees('Note 53 held');
    await on.page.go('stand-ins/quay-stream');
    await on.ready();
    // F2 is note 41: pad 6 to pad 16 are the first eleven of them.
    for (const pad of [11, 12, 13]) await on.page.pad(pad);
    await until(
      async () => (await on.driver.findElements(By.css('section [data-caption$="YUI"]'))).length > 0,
      'the caption is typed',
    );
    await on.page.press('Undo: Spread over 13 mappings');
  });

  test('plays the fog laser with slots, and marks what gets in the way', async () => {
    await on.page.go('mappings');
    await on.page.press('Spread a range');
    await on.page.choose('From line', 'Deck desk');
    await on.page.choose('To line', 'Fog laser');
    await on.page.type('From channel', '6');
    await on.page.type('First', '28');
    await on.page.sees('! Beam while held sends that too');
    await on.page.type('First', '40');
    await until(async () => !(await on.page.says('sends that too')), 'nothing is in the way');
    const drawn = async (): Promise<string | null> =>
      (await on.driver.findElement(By.css('[data-spread-drawing]'))).getAttribute('aria-label');
    await until(async () => (await drawn()) === 'slot 1 to slot 12, spread over E2 to D#3', 'it is drawn');
    // Past the last note it is drawn where the next channel begins.
    await on.page.type('First', '120');
    await until(
      async () => (await drawn()) === 'slot 1 to slot 12, spread over C9 to D#-1; channel 7 from here',
      'the changeover is drawn',
    );
    await on.page.type('First', '40');
    await until(async () => !(await drawn())?.includes('channel'), 'all are on one channel');
    await on.page.press('Make 12 mappings');
    await on.page.go('stand-ins/fog-laser');
    await on.ready();
    await (await on.driver.findElement(By.css('[aria-label="Deck fader 3"]'))).sendKeys('\uE010');
    await until(() => shown('section [data-beam="42"]'), 'the beam stands');
    await (await on.driver.findElement(By.css('[aria-label="Deck fader 3"]'))).sendKeys('\uE011');
    await until(async () => !(await shown('section [data-beam="42"]')), 'the beam is gone');
  });
});

test('Preflight finds a press without a release, leads to its row, and is content once it is mended', async () => {
  await on.page.go('mappings');
  const response = await fetch(`${on.stage.address}api/mappings`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({
      name: 'Hanging beam',
      hear: {
        message: 'pressed',
        lineId: 'pier-pads',
        channels: [9, 9],
        numbers: [50, 50],
        values: [97, 97],
      },
      sends: [{ kind: 'note', lineId: 'fog-laser', channel: 5, number: 90 }],
    }),
  });
  expect(response.status).toBe(201);
  await on.page.press('Preflight');
  await on.page.sees('Hanging beam presses note 90 and never releases it');
  await on.page.sees('Hanging beam wants force exactly 97: nobody hits that twice.');
  await on.page.press('Hanging beam');
  await on.page.type('Length', '500 ms');
  await on.page.type('Force', 'any');
  await on.page.press('Preflight');
  await until(async () => !(await on.page.says('Hanging beam')), 'nothing of it is found any more');
});
