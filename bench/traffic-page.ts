/** (c) The frames and the memory of the Traffic page while 5,000 messages a second pass, compared with the page at rest. */
import WebSocket from 'ws';
import type { WebDriver } from 'selenium-webdriver';
import { openBrowser } from '../e2e/browser.js';
import { openTestStage, until } from '../scripts/test-stage.js';

export interface PageFigures {
  when: string;
  frames: number;
  medianMs: number;
  p99Ms: number;
  worstMs: number;
  heapMb: number;
}

const PER_SECOND = 5000;
const EVERY_MS = 5;

/** Measures the frame times of the page for a time. */
async function watch(driver: WebDriver, when: string, seconds: number): Promise<PageFigures> {
  const [times, heap] = (await driver.executeAsyncScript(
    `const done = arguments[arguments.length - 1];
     const times = [];
     const from = performance.now();
     let last = from;
     requestAnimationFrame(function frame(now) {
       times.push(now - last);
       last = now;
       if (now - from < ${seconds * 1000}) requestAnimationFrame(frame);
       else done([times.slice(1), performance.memory.usedJSHeapSize]);
     });`,
  )) as [number[], number];
  const sorted = [...times].sort((a, b) => a - b);
  const at = (part: number): number => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * part))]!;
  return {
    when,
    frames: times.length,
    medianMs: at(0.5),
    p99Ms: at(0.99),
    worstMs: at(1),
    heapMb: heap / 2 ** 20,
  };
}

/** @param seconds how long the page is measured under load */
export async function benchTrafficPage(
  seconds: number,
): Promise<{ figures: PageFigures[]; sent: number; noted: number }> {
  const stage = await openTestStage();
  const browser = await openBrowser();
  const { driver } = browser;
  try {
    await driver.manage().setTimeouts({ script: (seconds + 30) * 1000 });
    await driver.get(`${stage.address}traffic`);
    const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
    await new Promise((done) => socket.on('open', done));
    const ports = [{ kind: 'midi-inside', name: 'Pier pads', in: true, out: false }];
    socket.send(JSON.stringify({ t: 'ports', ports }));
    const body = (): Promise<string> =>
      driver.executeScript('return document.body.innerText') as Promise<string>;
    await until(async () => !(await body()).includes('waiting'), 'every line is open');
    const rest = await watch(driver, 'at rest', 5);

    let sent = 0;
    const from = performance.now();
    const timer = setInterval(() => {
      const due = Math.floor(((performance.now() - from) / 1000) * PER_SECOND) - sent;
      // A mapping hears one controller in four. The others are only shown.
      const bytes: number[] = [];
      for (let i = 0; i < due; i++) bytes.push(0xb1, 21 + ((sent + i) % 4) * 10, (sent + i) % 128);
      if (due > 0) socket.send(Uint8Array.from([2, 0, ...bytes]));
      sent += due;
    }, EVERY_MS);
    const early = await watch(driver, 'first 5 s', 5);
    const loaded = await watch(driver, `next ${seconds} s`, seconds);
    clearInterval(timer);
    const line = `in (\\d+) ·`;
    await driver.get(`${stage.address}lines`);
    const noted = await until(
      async () => {
        const found = new RegExp(line).exec(await body());
        return found && Number(found[1]) >= sent ? Number(found[1]) : null;
      },
      'the line has counted all',
      10_000,
    ).catch(() => -1);
    socket.close();
    return { figures: [rest, early, loaded], sent, noted };
  } finally {
    await browser.close();
    await stage.stop();
  }
}
