/** (g) The sheet with 1,000 mappings, scrolled from end to end and filtered letter by letter: its frames, against the page at rest. */
import type { Show } from '@tawny-signal/core/show';
import { openBrowser } from '../e2e/browser.js';
import { openTestStage, until } from '../scripts/test-stage.js';

export interface SheetFigures {
  what: string;
  frames: number;
  medianMs: number;
  p99Ms: number;
  worstMs: number;
}

const MAPPINGS = 1000;

/** Counts the page's own frames while `act` goes on, which is given the frame's number and says when it has ended. */
const watching = (act: string): string =>
  `const done = arguments[arguments.length - 1];
   const scroller = document.querySelector('ol[aria-label="Mappings"]').parentElement;
   const field = document.querySelector('[data-find]');
   const put = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
   const write = (text) => { put.call(field, text); field.dispatchEvent(new Event('input', { bubbles: true })); };
   const times = [];
   let last = performance.now();
   let frame = 0;
   requestAnimationFrame(function step(now) {
     times.push(now - last);
     last = now;
     const more = (() => { ${act} })();
     frame++;
     if (more) requestAnimationFrame(step);
     else done(times.slice(1));
   });`;

const ACTS = {
  'at rest': 'return frame < 300;',
  scrolled:
    'const end = scroller.scrollHeight - scroller.clientHeight; scroller.scrollTop = end * (frame < 300 ? frame / 300 : 2 - frame / 300); return frame < 600;',
  // A letter every sixth frame, and away again: faster than people type.
  filtered:
    "const word = 'deck 517'; const at = Math.floor(frame / 6) % (2 * word.length); write(word.slice(0, at <= word.length ? at : 2 * word.length - at)); return frame < 600;",
};

export async function benchSheet(): Promise<SheetFigures[]> {
  const stage = await openTestStage();
  const browser = await openBrowser();
  const { driver } = browser;
  try {
    const show = (await (await fetch(`${stage.address}api/files/show`)).json()) as Show;
    const more = Array.from({ length: MAPPINGS - show.mappings.length }, (_, at) => ({
      ...show.mappings[at % show.mappings.length]!,
      id: `more-${at}`,
      name: `Deck ${at}`,
    }));
    const response = await fetch(`${stage.address}api/files/show`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: JSON.stringify({ ...show, mappings: [...show.mappings, ...more] }),
    });
    if (!response.ok) throw new Error(await response.text());
    await driver.manage().setTimeouts({ script: 120_000 });
    await driver.get(`${stage.address}mappings`);
    await until(
      () => driver.executeScript('return document.querySelectorAll("[data-row]").length > 5'),
      'the sheet is drawn',
    );
    const figures: SheetFigures[] = [];
    for (const [what, act] of Object.entries(ACTS)) {
      const times = (await driver.executeAsyncScript(watching(act))) as number[];
      const sorted = [...times].sort((a, b) => a - b);
      const at = (part: number): number =>
        sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * part))]!;
      figures.push({ what, frames: times.length, medianMs: at(0.5), p99Ms: at(0.99), worstMs: at(1) });
    }
    return figures;
  } finally {
    await browser.close();
    await stage.stop();
  }
}
