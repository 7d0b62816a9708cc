/** Starts one Tawny Signal and one browser for all tests of a file, so that no file can make another fail. */
import { afterAll, beforeAll } from '@jest/globals';
import { By, type WebDriver } from 'selenium-webdriver';
import WebSocket from 'ws';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';
import { openBrowser, type Browser } from './browser.js';
import { openPage, type Page } from './page.js';

export interface Setup {
  readonly stage: TestStage;
  readonly driver: WebDriver;
  readonly page: Page;
  /** Waits until the page is connected and all lines are open, so that what is pressed is heard and sent. */
  ready(): Promise<void>;
  /** Opens the page of the stand-ins, and waits until all lines are open. */
  standIns(): Promise<void>;
  /** Waits until the water screen has received exactly this. */
  arrives(address: string, value: string): Promise<void>;
  /** Plays the pads from another connection, as another tab would. */
  playElsewhere(...bytes: number[]): Promise<void>;
  /** Presses a switch as soon as it exists. */
  flip(words: string): Promise<void>;
  /** Calls the API. @returns what it answers; null for nothing */
  call<T>(path: string, method?: string, body?: object): Promise<T>;
  /** Adds a script to the page that runs before its own. @param loads whether it loads others, which the page itself may not */
  before(script: string, loads?: boolean): Promise<void>;
}

interface DevTools {
  sendDevToolsCommand(name: string, args: object): Promise<void>;
}

/** @param switches of Chromium, made once the server runs */
export function setup(switches: (stage: TestStage) => Promise<string[]> = () => Promise.resolve([])): Setup {
  let stage: TestStage;
  let browser: Browser | undefined;
  let page: Page;

  beforeAll(async () => {
    stage = await openTestStage();
    browser = await openBrowser(1280, 800, await switches(stage));
    page = openPage(browser.driver, () => stage.address);
  });
  afterAll(async () => {
    await browser?.close();
    await stage.stop();
  });

  const made: Setup = {
    get stage() {
      return stage;
    },
    get driver() {
      return browser!.driver;
    },
    get page() {
      return page;
    },
    async ready() {
      const troubles = ['No connection to the server', 'waiting', 'not answering'];
      const well = async (): Promise<boolean> => {
        const said = await Promise.all(troubles.map((words) => page.says(words)));
        return !said.includes(true);
      };
      await until(well, 'the page is connected and every line is open');
    },
    async standIns() {
      await page.go('stand-ins');
      await made.ready();
    },
    async arrives(address, value) {
      let last: string | null = null;
      const is = async (): Promise<boolean> => (last = await page.received(address)) === value;
      await until(is, `${address} ${value} arrives at the water screen`).catch((error: unknown) => {
        throw new Error(`${String(error)}; the last was ${last}`);
      });
    },
    async playElsewhere(...bytes) {
      await made.ready();
      const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
      await new Promise((done) => socket.on('open', done));
      const ports = [{ kind: 'midi-inside', name: 'Pier pads', in: true, out: false }];
      socket.send(JSON.stringify({ t: 'ports', ports }));
      socket.send(Uint8Array.from([2, 0, ...bytes]));
      await new Promise<void>((done) => {
        socket.on('close', () => done());
        socket.close();
      });
    },
    async flip(words) {
      const found = async () => (await made.driver.findElements(switchNamed(words)))[0];
      await (await until(found, `a switch “${words}”`)).click();
    },
    async call<T>(path: string, method = 'GET', body?: object): Promise<T> {
      const answer = await fetch(`${stage.address}api/${path}`, {
        method,
        headers: { 'Content-Type': 'application/json' },
        body: body ? JSON.stringify(body) : null,
      });
      const text = await answer.text();
      return (text === '' ? null : JSON.parse(text)) as T;
    },
    async before(script, loads = false) {
      const tools = made.driver as unknown as DevTools;
      if (loads) await tools.sendDevToolsCommand('Page.setBypassCSP', { enabled: true });
      await tools.sendDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', { source: script });
    },
  };
  return made;
}

/** Finds a switch by its label. */
const switchNamed = (words: string): By => By.css(`[role="switch"][aria-label="${words}"]`);

/** Rounds a number to a 32-bit float, as it is sent. */
export const float = (value: number): string => String(Math.fround(value));
