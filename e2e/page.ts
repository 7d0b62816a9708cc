/** Drives the interface like a person: by labels, names and visible text, not by its structure. */
import { By, Key, type WebDriver, type WebElement } from 'selenium-webdriver';
import { until } from '../scripts/test-stage.js';

export interface Page {
  go(path: string): Promise<void>;
  /** Finds a button, link or tab by its text or label. */
  button(name: string): Promise<WebElement>;
  press(name: string): Promise<void>;
  /** Finds a text field by its label. */
  field(label: string): Promise<WebElement>;
  /** Replaces the text of a field, presses Enter, and waits until it is saved or refused. */
  type(label: string, text: string): Promise<void>;
  /** Returns the error at a field. */
  problemAt(label: string): Promise<string>;
  /** Chooses from a list by its label. */
  choose(label: string, words: string): Promise<void>;
  /** Chooses from a list in one part of the open mapping: Hear, Shape, Send, Feedback. Some labels are in two of them. */
  chooseIn(part: string, label: string, words: string): Promise<void>;
  /** Waits until the page contains this text. */
  sees(text: string): Promise<void>;
  says(text: string): Promise<boolean>;
  /** Types keys on the page as a whole. */
  keys(...keys: string[]): Promise<void>;
  /** Types keys that are held down together. */
  chord(...keys: string[]): Promise<void>;
  /** Opens a row of a sheet by its text. */
  open(row: string): Promise<void>;
  /** Taps an on-screen pad with the keyboard, with force 100. */
  pad(number: number): Promise<void>;
  /** Returns the arguments of the last message that the water screen received on an address; null if none. */
  received(address: string): Promise<string | null>;
  /** Returns the text of the last event. */
  lastEvent(): Promise<string>;
}

const quote = (text: string): string => (text.includes("'") ? `"${text}"` : `'${text}'`);

export function openPage(driver: WebDriver, address: () => string): Page {
  const find = (xpath: string, words: string): Promise<WebElement> =>
    until(async () => (await driver.findElements(By.xpath(xpath)))[0], words);
  /** Tries again if an element became stale because React has rendered it again. */
  const again = (act: () => Promise<unknown>, words: string): Promise<unknown> =>
    until(async () => {
      await act();
      return true;
    }, words);

  /** A field may go with the Enter. */
  const isDone = async (label: string): Promise<boolean> => {
    try {
      const [labelled] = await driver.findElements(By.xpath(`//label[normalize-space()=${quote(label)}]`));
      if (!labelled) return true;
      const field = await driver.findElement(By.id((await labelled.getAttribute('for'))!));
      const unsaved = await field.getAttribute('data-unsaved');
      return unsaved === null || (await field.getAttribute('aria-invalid')) === 'true';
    } catch {
      return false; // React has drawn it anew
    }
  };

  const page: Page = {
    async go(path) {
      await driver.get(`${address()}${path}`);
      await find('//header', 'the page is drawn');
    },
    button: (name) =>
      find(
        `//*[self::button or self::a or @role='option'][normalize-space()=${quote(name)} or @aria-label=${quote(name)} or starts-with(@aria-label, ${quote(`${name} (`)})]`,
        `a button “${name}”`,
      ),
    press: async (name) =>
      void (await again(async () => {
        const button = await page.button(name);
        // A browser takes a press of it and does nothing.
        if (!(await button.isEnabled())) throw new Error(`“${name}” is disabled`);
        await button.click();
      }, `“${name}” can be pressed`)),
    field: (label) =>
      until(async () => {
        const labelled = await find(`//label[normalize-space()=${quote(label)}]`, `a field “${label}”`);
        return driver.findElement(By.id((await labelled.getAttribute('for'))!));
      }, `a field “${label}” that stays`),
    async type(label, text) {
      await again(async () => {
        const field = await page.field(label);
        await field.click();
        await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
      }, `“${label}” can be typed in`);
      await until(() => isDone(label), `what is typed into “${label}” is saved, or refused`);
    },
    problemAt: (label) =>
      until(async () => {
        const field = await page.field(label);
        if ((await field.getAttribute('aria-invalid')) !== 'true') return null;
        return driver.findElement(By.id((await field.getAttribute('aria-describedby'))!)).getText();
      }, `a problem is said at “${label}”`),
    async choose(label, words) {
      await again(async () => (await page.field(label)).click(), `“${label}” can be opened`);
      await (
        await find(`//*[@role='option'][normalize-space()=${quote(words)}]`, `the choice “${words}”`)
      ).click();
    },
    async chooseIn(part, label, words) {
      const xpath = `//*[@aria-label=${quote(part)}]//label[normalize-space()=${quote(label)}]`;
      await again(async () => {
        const labelled = await find(xpath, `a field “${label}” in ${part}`);
        await driver.findElement(By.id((await labelled.getAttribute('for'))!)).click();
      }, `“${label}” in ${part} can be opened`);
      await (
        await find(`//*[@role='option'][normalize-space()=${quote(words)}]`, `the choice “${words}”`)
      ).click();
    },
    sees: async (text) => void (await until(() => page.says(text), `the page says “${text}”`)),
    says: async (text) => (await driver.findElement(By.css('body')).getText()).includes(text),
    async keys(...keys) {
      await driver
        .actions()
        .sendKeys(...keys)
        .perform();
    },
    async chord(...keys) {
      const actions = driver.actions();
      for (const key of keys) actions.keyDown(key);
      for (const key of keys.toReversed()) actions.keyUp(key);
      await actions.perform();
    },
    async open(row) {
      const xpath = `//button[@data-row][contains(., ${quote(row)})]`;
      await again(
        async () => (await find(xpath, `a row “${row}”`)).click(),
        `the row “${row}” can be opened`,
      );
    },
    pad: (number) =>
      again(async () => {
        const pad = await driver.findElement(By.css(`[aria-label^="Pad ${number}, "]`));
        await pad.sendKeys(' ');
      }, `pad ${number} can be pressed`) as Promise<never>,
    async received(address) {
      const rows = await driver.findElements(By.css(`[data-received="${address}"] [data-args]`));
      return rows[0] ? rows[0].getAttribute('data-args') : null;
    },
    lastEvent: () => driver.findElement(By.css('footer')).getText(),
  };
  return page;
}
