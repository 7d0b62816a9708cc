/**
 * Mappings are made, the keyboard is used, and bad input is said. The tests go on from one another, in their order: each finds the show as the one
 * before left it, and one that fails may take those after it along.
 */
import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

const on = setup();

describe('learning and making mappings', () => {
  test('Learn, then a pad: a mapping hears it, at any force', async () => {
    await on.page.go('mappings');
    await on.page.press('Learn');
    await on.page.sees('Press a pad or move a fader. A new mapping will hear it.');
    await on.playElsewhere(0x99, 48, 33);
    await until(
      async () => /\/mappings\/[\w-]{6,}/.test(await on.driver.getCurrentUrl()),
      'the new mapping is open',
    );
    expect(await (await on.page.field('Note')).getAttribute('value')).toBe('48 (C3)');
    expect(await (await on.page.field('Channel')).getAttribute('value')).toBe('10');
    expect(await (await on.page.field('Force')).getAttribute('value')).toBe('any');
    await on.page.sees('It sends nothing yet. Choose where to.');
    await on.page.chooseIn('Send', 'Line', 'Water screen');
    await on.page.type('Address', '/fog/density');
    await on.page.sees('Water screen · float');
    await on.playElsewhere(0x99, 48, 127);
    await until(
      async () => (await on.driver.findElement(By.css('[data-just-now]')).getText()).includes('heard 127'),
      'it fires',
    );
  });

  test('it is named, copied, moved, switched off and removed; undo brings it back', async () => {
    await on.page.type('Name', 'Gull cries');
    await on.page.press('Copy');
    await on.page.sees('Gull cries copy');
    // Two mappings would fire at once, so the copy is switched off.
    await on.flip('Off');
    await until(async () => !(await on.page.says('Switched off')), 'the copy is switched on');
    const names = async (): Promise<string[]> =>
      Promise.all(
        (await on.driver.findElements(By.css('[data-mapping] [data-row] .font-semibold:first-child'))).map(
          (one) => one.getText(),
        ),
      );
    // Rows that are drawn anew while they are read are read again.
    const place = (name: string): Promise<number> =>
      until(
        async () => (await names()).filter((one) => !one.startsWith('/')).indexOf(name),
        'the rows can be read',
      );
    const before = await place('Gull cries copy');
    await on.page.press('Move up');
    await until(async () => (await place('Gull cries copy')) === before - 1, 'it moved up');
    await on.flip('On');
    await on.page.sees('Switched off');
    await on.page.press('Remove');
    await until(async () => (await place('Gull cries copy')) < 0, 'it is removed');
    await on.page.chord(Key.CONTROL, 'z');
    await on.page.sees('Gull cries copy');
  });

  test('a bank that is off keeps its mappings from firing, and Why? says so', async () => {
    await on.page.go('mappings');
    await on.page.press('Storm glass');
    await on.page.sees('Bank Storm glass is off');
    await on.playElsewhere(0x99, 36, 90);
    await until(async () => (await on.page.lastEvent()).includes('nothing sent'), 'nothing was sent');
    await on.page.press('Why?');
    await on.page.sees('bank Storm glass is off');
    await on.page.keys(Key.ESCAPE);
    await on.page.press('Storm glassoff');
  });
});

describe('the keyboard', () => {
  test('arrows walk the rows, Enter opens, Escape closes', async () => {
    await on.page.go('mappings');
    await (
      await until(async () => (await on.driver.findElements(By.css('[data-row]')))[0], 'rows')
    ).sendKeys(Key.ARROW_DOWN);
    await on.page.keys(Key.ARROW_DOWN, Key.ENTER);
    await until(
      async () => (await on.driver.getCurrentUrl()).endsWith('/mappings/lamp'),
      'the third row is open',
    );
    await until(async () => {
      await on.page.keys(Key.ESCAPE);
      return (await on.driver.getCurrentUrl()).endsWith('/mappings');
    }, 'it is closed');
  });

  test('/ finds in the sheet, Ctrl+K finds anything', async () => {
    await on.page.keys('/');
    await on.page.keys('fog bank');
    await until(
      async () => (await on.driver.findElements(By.css('[data-mapping]'))).length < 4,
      'few rows are left',
    );
    await on.page.keys(Key.ESCAPE);
    await on.page.chord(Key.CONTROL, 'k');
    await on.page.keys('Water');
    await on.page.sees('line');
    await on.page.keys(Key.ENTER);
    await until(
      async () => (await on.driver.getCurrentUrl()).endsWith('/lines/water-screen'),
      'the line is open',
    );
  });
});

describe('bad input is said at its field, and what was typed stays', () => {
  const refused = async (label: string, text: string, said: string): Promise<void> => {
    const before = await (await on.page.field(label)).getAttribute('value');
    await on.page.type(label, text);
    expect(await on.page.problemAt(label)).toContain(said);
    expect(await (await on.page.field(label)).getAttribute('value')).toBe(text);
    await on.page.keys(Key.ESCAPE);
    await until(
      async () => (await (await on.page.field(label)).getAttribute('value')) === before,
      'Escape brings back what is kept',
    );
  };

  test('on a mapping: an address without /, a channel of 17, a note that there is not', async () => {
    await on.page.go('mappings/storm-go');
    await refused('Address', 'fog/density', 'An OSC address begins with /');
    await refused('Channel', '17', 'A channel is a number from 1 to 16');
    await refused('Channel', '8-3', 'The range 8-3 runs backwards');
    await refused('Note', 'H9', 'A note is a number from 0 to 127');
    await refused('Becomes', 'loud', 'Write two numbers');
  });

  test('on a line: a port of 70000, a name already used, no host', async () => {
    await on.page.go('lines/water-screen');
    await refused('Port', '70000', 'A port is a number from 1 to 65535.');
    await refused('Name', 'pier pads', '“Pier pads” is used already.');
    await refused('Send to', 'front of house', 'Write an address like 192.168.1.20');
  });

  test('a file that is no MIDI file, and one that breaks off', async () => {
    await on.standIns();
    const input = await on.driver.findElement(By.css('input[type="file"]'));
    const give = async (bytes: string | Uint8Array): Promise<void> => {
      const path = join(tmpdir(), `tawny-${process.pid}.mid`);
      writeFileSync(path, bytes);
      await input.sendKeys(path);
    };
    await give('Slack water, then fog.');
    await on.page.sees('This is not a MIDI file. Choose a Standard MIDI File');
    await give(
      Uint8Array.of(
        0x4d,
        0x54,
        0x68,
        0x64,
        0,
        0,
        0,
        6,
        0,
        1,
        0,
        2,
        1,
        0xe0,
        0x4d,
        0x54,
        0x72,
        0x6b,
        0,
        0,
        1,
        0,
      ),
    );
    await on.page.sees(
      'breaks off: track 1 should have 256 bytes, and only 0 are there. The previous file is still loaded.',
    );
    await on.page.sees('lantern-pier.mid');
  });
});

test('the show is named, and its choice of middle C names the notes', async () => {
  await on.page.go('mappings/storm-go');
  expect(await on.driver.getTitle()).toBe('The Lantern Pier · Tawny Signal');
  await on.page.press('Show: The Lantern Pier');
  await on.page.choose('Note 60 is', 'C3');
  await on.page.keys(Key.ESCAPE);
  await until(
    async () => (await (await on.page.field('Note')).getAttribute('value')) === '36 (C1)',
    'the note is C1',
  );
  await on.page.chord(Key.CONTROL, 'z');
  await until(
    async () => (await (await on.page.field('Note')).getAttribute('value')) === '36 (C2)',
    'the note is C2',
  );
});
