/** Several shows, versions of one, and files, in the browser. Each test opens the demo show again at its beginning. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeEach, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

const on = setup();
const folder = mkdtempSync(join(tmpdir(), 'tawny-shows-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const PIER = 'The Lantern Pier';

const api = async <T>(path: string, method = 'GET'): Promise<T> => {
  const response = await fetch(`${on.stage.address}api/${path}`, { method });
  return (await response.json()) as T;
};
interface Listed {
  openId: string;
  shows: { id: string; name: string }[];
}
beforeEach(async () => {
  const { shows } = await api<Listed>('shows');
  await api(`shows/${shows.find(({ name }) => name === PIER)!.id}/open`, 'POST');
  await on.page.go('shows');
  await on.page.button(`Show: ${PIER}`);
});

/** Presses a button in the row of a show or of a version. */
async function pressIn(row: string, words: string): Promise<void> {
  const found = By.xpath(
    `//li[@data-show='${row}' or @data-version='${row}']//*[self::button or self::a][normalize-space()='${words}' or @aria-label='${words}']`,
  );
  await (await until(async () => (await on.driver.findElements(found))[0], `“${words}” of ${row}`)).click();
}
const rows = async (): Promise<string[]> =>
  Promise.all(
    (await on.driver.findElements(By.css('li[data-show]'))).map(
      async (row) => (await row.getAttribute('data-show')) ?? '',
    ),
  );
async function give(text: string, name: string): Promise<void> {
  const path = join(folder, name);
  writeFileSync(path, text);
  const input = By.xpath("//label[contains(., 'Open a file')]//input[@type='file']");
  await (
    await until(async () => (await on.driver.findElements(input))[0], 'a place for a file')
  ).sendKeys(path);
}

test('a new show takes over the lines; its pads do nothing yet, and those of the other one do again', async () => {
  await on.page.press('New show');
  await on.page.type('Name', 'Second night');
  await on.page.button('Show: Second night');
  await on.page.sees('Water screen');
  await on.standIns();
  await on.page.pad(1);
  await until(async () => (await on.page.lastEvent()).includes('nothing sent'), 'nothing hears the pad');
  await on.page.go('shows');
  await pressIn(PIER, 'Open');
  await on.page.sees(`Opened ${PIER}.`);
  await on.standIns();
  await on.page.pad(1);
  await on.arrives('/moment/storm/go', String(Math.fround(100 / 127)));
});

test('the message after opening a show leads back', async () => {
  await pressIn(PIER, `Copy ${PIER}`);
  await until(async () => (await rows()).includes(`${PIER} 2`), 'the copy is listed');
  await pressIn(`${PIER} 2`, 'Open');
  await on.page.button(`Show: ${PIER} 2`);
  await on.page.press(`Back to ${PIER}`);
  await on.page.button(`Show: ${PIER}`);
});

test('a show is renamed and archived, and comes out of the archive', async () => {
  await pressIn(PIER, `Copy ${PIER}`);
  await until(
    async () => (await rows()).some((name) => name !== PIER && name.startsWith(PIER)),
    'it is listed',
  );
  const copy = (await rows()).find((name) => name !== PIER && name.startsWith(PIER))!;
  await pressIn(copy, `Rename ${copy}`);
  await on.page.type('Name', PIER);
  expect(await on.page.problemAt('Name')).toContain('exists already');
  await on.page.type('Name', 'Matinee');
  await until(async () => (await rows()).includes('Matinee'), 'it has its name');
  await pressIn('Matinee', 'Archive Matinee');
  const archived = By.xpath("//summary[starts-with(., 'Archived')]");
  await (await until(async () => (await on.driver.findElements(archived))[0], 'the archive')).click();
  await pressIn('Matinee', 'Back to the list');
  await until(async () => (await on.driver.findElements(archived)).length === 0, 'the archive is empty');
  expect(await rows()).toContain('Matinee');
});

test('opening another show while a moment runs asks first', async () => {
  await on.page.press('New show');
  await on.page.type('Name', 'Third night');
  await on.page.button('Show: Third night');
  await on.page.go('shows');
  await pressIn(PIER, 'Open');
  await on.page.button(`Show: ${PIER}`);
  await on.page.go('prompt');
  await on.page.press('Go');
  await on.page.go('shows');
  await pressIn('Third night', 'Open');
  await on.page.sees('Open Third night?');
  await on.page.press('Cancel');
  await on.page.button(`Show: ${PIER}`);
  await pressIn('Third night', 'Open');
  await on.page.press('Open it');
  await on.page.button('Show: Third night');
});

test('a version is kept, compared row by row, gone back to, and Undo takes that back', async () => {
  await on.page.type('Keep as', 'After the dress rehearsal');
  await on.page.sees('After the dress rehearsal');
  await on.page.go('mappings/storm-go');
  await on.page.type('Name', 'Storm glass cracks');
  await on.page.sees('Storm glass cracks');
  await on.page.go('shows');
  await pressIn('After the dress rehearsal', 'Compare');
  await on.page.sees('Since then 1 row changed.');
  await on.page.sees('Storm glass breaks → Storm glass cracks');
  await on.page.press('Go back to it');
  await on.page.sees('The show is as in After the dress rehearsal.');
  await on.page.press('All shows and versions');
  await pressIn('After the dress rehearsal', 'Compare');
  await on.page.sees('Nothing differs.');
  await on.page.press('Undo: Go back to After the dress rehearsal');
  await on.page.go('mappings/storm-go');
  await on.page.sees('Storm glass cracks');
});

test('a file is refused in words, or says what is in it, what it would replace, and that can be undone', async () => {
  await give('{"format":"something else"}', 'odd.json');
  await on.page.sees('This is not a Tawny Signal file');
  const saved = await (await fetch(`${on.stage.address}api/files/show`)).text();
  const { show } = await api<{ show: { mappings: object[] } }>('show');
  await give(saved.replace(PIER, 'Encore on the pier'), 'encore.json');
  await on.page.sees('Open Encore on the pier');
  await on.page.sees(`encore.json: ${show.mappings.length} mappings, 6 moments`);
  await on.page.sees(`Compared to the open show, ${PIER}, 1 row differs.`);
  await on.page.press('Cancel');
  await on.page.button(`Show: ${PIER}`);
  await give(saved.replace(PIER, 'Encore on the pier'), 'encore.json');
  await on.page.press(`Replace what is in ${PIER}`);
  await on.page.button('Show: Encore on the pier');
  await on.page.press('Undo');
  await on.page.button(`Show: ${PIER}`);
  await give(saved.replace(PIER, 'Encore on the pier'), 'encore.json');
  await on.page.press('Open as another show');
  await on.page.button('Show: Encore on the pier');
  await until(async () => (await rows()).includes(PIER), 'the other one stays in the list');
});

test('while the show is locked, no other is opened', async () => {
  await fetch(`${on.stage.address}api/desk/locked`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json' },
    body: '{"locked":true}',
  });
  try {
    await until(
      async () => !(await (await on.page.button('New show')).isEnabled()),
      'nothing new can be made while it is locked',
    );
    await on.page.keys(Key.ESCAPE);
  } finally {
    await fetch(`${on.stage.address}api/desk/locked`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json' },
      body: '{"locked":false}',
    });
  }
});
