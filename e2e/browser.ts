/** Debian's headless Chromium, driven by its own ChromeDriver. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, type WebDriver } from 'selenium-webdriver';
import { Options, ServiceBuilder } from 'selenium-webdriver/chrome.js';

export interface Browser {
  driver: WebDriver;
  close(): Promise<void>;
}

const QUIET = [
  '--headless=new',
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-dev-shm-usage',
  '--force-color-profile=srgb',
  '--hide-scrollbars',
  // The water screen is painted with reduced motion, because the browser paints in software on the two cores of the tests.
  '--force-prefers-reduced-motion',
];

/** @param more switches of Chromium */
export async function openBrowser(
  width = 1280,
  height = 800,
  more: readonly string[] = [],
): Promise<Browser> {
  const profile = mkdtempSync(join(tmpdir(), 'tawny-browser-'));
  const options = new Options();
  options.setChromeBinaryPath('/usr/bin/chromium');
  options.addArguments(...QUIET, ...more, `--user-data-dir=${profile}`, `--window-size=${width},${height}`);
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
    .build();
  // The borders of the window are not part of the page.
  const [w, h] = (await driver.executeScript('return [innerWidth, innerHeight]')) as [number, number];
  await driver
    .manage()
    .window()
    .setRect({ width: width * 2 - w, height: height * 2 - h, x: 0, y: 0 });
  return {
    driver,
    async close() {
      await driver.quit().catch(() => undefined);
      rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
    },
  };
}
