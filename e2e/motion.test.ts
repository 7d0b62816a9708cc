/** Motions in the browser: made, seen moving at the far end and in the scope, started by drums, fed by a file, and refused where they can't be. */
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import WebSocket from 'ws';
import type { FromServer } from '@tawny-signal/core/live/messages';
import type { Show } from '@tawny-signal/core/show';
import { makeSend } from '@tawny-signal/core/sends';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

const on = setup();

const show = async (): Promise<Show> => (await on.call<{ show: Show }>('show')).show;
const motionNamed = async (name: string): Promise<Show['motions'][number]> =>
  (await show()).motions.find((motion) => motion.name === name)!;
const running = async (name: string): Promise<number> => {
  const { id } = await motionNamed(name);
  const seen = await on.driver.findElement(By.css(`[data-motion="${id}"] [data-running]`));
  return Number(await seen.getAttribute('data-running'));
};
/** The different values of one kind that the water screen has shown, as it says itself. */
async function values(of: 'hue' | 'density' | 'tide', count: number): Promise<number[]> {
  const seen = new Set<number>();
  const socket = new WebSocket(`ws://127.0.0.1:${on.stage.port}/live`);
  socket.on('message', (data: Buffer, isBinary: boolean) => {
    if (isBinary) return;
    const message = JSON.parse(data.toString()) as FromServer;
    if (message.t !== 'standIn' || message.name !== 'water-screen') return;
    const { scene } = message.state as { scene: Record<string, number> };
    seen.add(scene[of]!);
  });
  await until(() => seen.size >= count, `${count} values of the ${of}`, 180_000);
  socket.close();
  return [...seen];
}
/** How many colours the scope has: more than the paper and its lines once a trace is drawn. */
const tawnyPixels = (): Promise<number> =>
  on.driver.executeScript(`
    const canvas = document.querySelector('canvas[role="img"]');
    const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
    let count = 0;
    for (let at = 0; at < data.length; at += 4) if (data[at] > 180 && data[at + 1] > 100 && data[at + 2] < 140) count++;
    return count;
  `);
const WATER = { kind: 'osc', lineId: 'water-screen', args: [{ type: 'f', value: 'shaped' }] } as const;

/** Plays a controller that nothing hears, 5,000 messages a second for at most a minute. @returns how many there were, and what stops it */
function flooding(): { count(): number; stop(): void } {
  const socket = new WebSocket(`ws://127.0.0.1:${on.stage.port}/live`);
  let count = 0;
  const MOST = 300_000;
  socket.on('open', () => {
    const ports = [{ kind: 'midi-inside', name: 'Pier pads', in: true, out: false }];
    socket.send(JSON.stringify({ t: 'ports', ports }));
  });
  const began = performance.now();
  const timer = setInterval(() => {
    const wanted = Math.min(MOST, (performance.now() - began) * 5);
    // What was held up is left out.
    const now = Math.min(200, Math.floor(wanted - count));
    if (socket.readyState !== WebSocket.OPEN || now <= 0) return;
    const bytes = Array.from({ length: now }, (_, at) => [0xb1, 90, at & 0x7f]).flat();
    socket.send(Uint8Array.from([2, 0, ...bytes]));
    count += now;
  }, 5);
  return {
    count: () => count,
    stop() {
      clearInterval(timer);
      socket.terminate();
    },
  };
}

describe('a wave', () => {
  test('is made, moves the tide of the water screen, and is seen in its scope and in Traffic', async () => {
    await on.page.go('motion');
    await on.ready();
    await on.page.press('Add a motion');
    await on.page.sees('It sends nothing yet.');
    await on.page.choose('Line', 'Water screen');
    await on.page.type('Address', '/tide/height');
    await on.page.type('Every', '1 Hz');
    await until(async () => (await motionNamed('Wave')).drive.everyMs === 1000, 'the rate is saved');
    await on.page.type('Range', '0.2-0.8');
    await until(async () => (await running('Wave')) === 1, 'it runs');
    await until(async () => (await tawnyPixels()) > 500, 'the scope has a trace');
    await on.page.press('Stand-ins');
    const heights = await values('tide', 8);
    // The first may be from before.
    for (const height of heights.slice(1)) {
      expect(height).toBeGreaterThan(0.199);
      expect(height).toBeLessThan(0.801);
    }
    await on.page.press('Traffic');
    await on.page.sees('motion Wave');
  });

  test('is slower, smaller and offset as it is typed, and what is no rate is said there', async () => {
    await on.page.go(`motion/${(await motionNamed('Wave')).id}`);
    await on.ready();
    for (const wrong of ['0', '0 Hz', 'never', '2 h']) {
      await on.page.type('Every', wrong);
      expect(await on.page.problemAt('Every')).toMatch(/^Write a time like 4 s, a rate like 0.5 Hz/);
    }
    await on.page.type('Every', '2 beats');
    await on.page.sees('It follows the tempo.');
    await on.page.type('Amount', '300');
    expect(await on.page.problemAt('Amount')).toBe('Write -200 to 200 %.');
    await on.page.type('Amount', '50');
    await on.page.type('Offset', '-10 %');
    await until(async () => {
      const { shape, drive } = await motionNamed('Wave');
      return shape.amount === 0.5 && shape.offset === -0.1 && drive.everyBeats === 2;
    }, 'all of it is saved');
  });

  test('is found by its name', async () => {
    await on.page.go('lines');
    await on.ready();
    await on.page.chord(Key.CONTROL, 'k');
    await on.page.keys('Wave motion', Key.ENTER);
    await on.page.sees('Both ways about the middle');
  });

  test('is stopped and begun again by hand, and Panic stops it until then', async () => {
    await on.page.press('Stop');
    await until(async () => (await running('Wave')) === 0, 'it stands');
    await on.page.press('Start');
    await until(async () => (await running('Wave')) === 1, 'it runs again');
    await on.page.press('Panic');
    await until(async () => (await running('Wave')) === 0, 'Panic stops it');
    await on.page.press('Start');
    await until(async () => (await running('Wave')) === 1, 'it runs again');
  });

  test('is drawn with the keys', async () => {
    await on.page.choose('Form', 'drawn');
    await on.page.sees('Lines go from each to the next');
    const bar = await on.driver.findElement(By.css('[role="slider"][aria-label="Point 1"]'));
    await on.driver.executeScript('arguments[0].focus()', bar);
    await on.page.chord(Key.SHIFT, Key.ARROW_UP);
    await until(async () => {
      const { makes } = await motionNamed('Wave');
      return makes.kind === 'wave' && makes.points[0] === 0.1;
    }, 'the first point is higher');
  });

  test('is drawn with the pointer', async () => {
    const bars = await on.driver.findElements(By.css('[role="slider"][aria-label^="Point"]'));
    const { makes: before } = await motionNamed('Wave');
    const [from, to] = [bars[1]!, bars[5]!];
    // From the middle of one bar to that of another: all that it passes over is moved.
    const pointer = on.driver.actions({ async: true });
    await pointer.move({ origin: from }).press().move({ origin: to, duration: 200 }).release().perform();
    await until(async () => {
      const { makes } = await motionNamed('Wave');
      return (
        makes.kind === 'wave' &&
        before.kind === 'wave' &&
        makes.points.some((value, at) => value !== before.points[at]) &&
        makes.points.slice(8).every((value, at) => value === before.points[8 + at])
      );
    }, 'some points have moved, and those that were not passed over have not');
  });

  test('has a curve that is drawn with the pointer and with the keys', async () => {
    const bezier = async (): Promise<string> => (await motionNamed('Wave')).shape.bezier.join(' ');
    await on.page.press('+ Curve, steps, limits, smoothing, colour');
    await on.page.choose('Curve', 'Bézier');
    const handle = await until(
      async () => (await on.driver.findElements(By.css('[aria-label="Handle at the beginning"]')))[0],
      'the curve has its handles',
    );
    await on.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', handle);
    expect(await bezier()).toBe('0.4 0 0.2 1');
    const pointer = on.driver.actions({ async: true });
    await pointer
      .move({ origin: handle })
      .press()
      .move({ origin: handle, x: 40, y: -20 })
      .release()
      .perform();
    await until(async () => {
      const [x1, y1, x2, y2] = (await motionNamed('Wave')).shape.bezier;
      return x1 > 0.45 && x1 < 0.7 && y1 > 0.1 && y1 < 0.6 && x2 === 0.2 && y2 === 1;
    }, 'the handle is where it was dragged to');
    await on.page.type('Its points', '0.4, 0, 0.2, 1');
    await until(async () => (await bezier()) === '0.4 0 0.2 1', 'the points are as typed');
    const end = await on.driver.findElement(By.css('[aria-label="Handle at the end"]'));
    await on.driver.executeScript('arguments[0].focus()', end);
    await on.page.chord(Key.SHIFT, Key.ARROW_DOWN);
    await until(async () => (await bezier()) === '0.4 0 0.2 0.9', 'the handle at the end is lower');
  });

  test('is moved by a fader, which is seen, until it is as it was written', async () => {
    const { id } = await motionNamed('Wave');
    const made = await on.call<Show['mappings'][number]>('mappings', 'POST', {
      name: 'Wave amount',
      hear: { message: 'control', lineId: 'pier-pads', channels: [0, 0], numbers: [20, 20], values: 'any' },
      sends: [makeSend({ kind: 'motion', lineId: null, motionId: id, act: 'amount' })],
    });
    await on.call(`mappings/${made.id}`, 'PATCH', { shape: { ...made.shape, out: [0, 1] } });
    await on.playElsewhere(0xb0, 20, 127);
    await on.page.sees('amount 100 %');
    await on.page.press('As written');
    await until(
      async () => !(await (await on.driver.findElement(By.css('body'))).getText()).includes('As written'),
      'nothing moves it any more',
    );
    await on.page.go('mappings');
    await on.page.go(`motion/${id}`);
    await on.ready();
  });

  test('is begun by the position, and ends where it stops', async () => {
    await on.page.choose('Begins', 'By the position');
    await on.page.sees('It does not run before it has a place.');
    await on.page.type('Runs from', 'soon');
    expect(await on.page.problemAt('Runs from')).toContain('Write a timecode');
    await on.page.type('Runs from', '01:00:00:00');
    await on.page.type('Runs to', '01:10:00:00');
    await until(async () => (await motionNamed('Wave')).place.until === '01:10:00:00', 'its place is saved');
    await until(async () => (await running('Wave')) === 0, 'it waits for the position');
    await on.call('desk/position', 'POST', { do: 'playFrom', ms: 3_600_000 });
    await until(async () => (await running('Wave')) === 1, 'it runs');
    await on.call('desk/position', 'POST', { do: 'stop' });
    await until(async () => (await running('Wave')) === 0, 'it ends');
    await on.page.choose('Begins', 'By itself');
    await until(async () => (await running('Wave')) === 1, 'it runs by itself again');
  });

  test('is off while its bank is', async () => {
    await on.page.choose('While', 'bank House is on');
    await until(async () => (await running('Wave')) === 1, 'it runs with the bank');
    await on.call('banks/house', 'PATCH', { on: false });
    await until(async () => (await running('Wave')) === 0, 'it is off');
    await on.page.sees('Bank House is off');
    await on.call('banks/house', 'PATCH', { on: true });
    await until(async () => (await running('Wave')) === 1, 'it runs again');
    await on.call(`motions/${(await motionNamed('Wave')).id}`, 'DELETE');
  });
});

test('the drums of the score turn the lens, change the sky and lift the fog', async () => {
  await on.standIns();
  await on.page.press('Lantern rig');
  await on.page.press('Start');
  const beam = async (): Promise<number> =>
    Number(await (await on.driver.findElement(By.css('[data-lens]'))).getAttribute('data-lens'));
  const seen = new Set<number>();
  await until(async () => {
    seen.add(await beam());
    return seen.has(90) && seen.size > 4;
  }, 'the lens turns by a quarter, by and by');
  await on.page.press('Water screen');
  for (const hue of (await values('hue', 3)).slice(1)) {
    expect(hue).toBeGreaterThan(0.449);
    expect(hue).toBeLessThan(0.951);
  }
  const fog = await values('density', 6);
  for (const density of fog) expect(density).toBeLessThan(0.701);
  await on.page.press('Stop');
});

describe('a table', () => {
  const folder = mkdtempSync(join(tmpdir(), 'tawny-tables-'));
  const file = (name: string, text: string): string => {
    writeFileSync(join(folder, name), text);
    return join(folder, name);
  };
  const bring = async (path: string): Promise<void> => {
    const input = await until(
      async () => (await on.driver.findElements(By.xpath("//label[contains(., 'Import a CSV')]//input")))[0],
      'a place for the file',
    );
    await input.sendKeys(path);
  };

  test('of temperatures at the quay becomes bells, each press the next', async () => {
    const made = await on.call<{ id: string }>('motions', 'POST', {
      name: 'Quay temperatures',
      makes: { kind: 'table', values: [] },
      drive: { by: 'steps' },
      shape: { scale: { notes: [0, 2, 3, 5, 7, 8, 10], root: 2, low: 62, high: 74 } },
      sends: [makeSend({ kind: 'note', lineId: 'fog-laser', channel: 5, number: 0, lengthMs: 100 })],
    });
    await on.page.go(`motion/${made.id}`);
    await on.ready();
    await bring(file('words.csv', 'a,b\nx,y\n'));
    await on.page.sees('There is no column with numbers in this file.');
    await bring(file('quay.csv', 'Day;Quay °C\n1;4,5\n2;\n3;6,5\n4;n/a\n5;8,5\n'));
    await on.page.sees('3 numbers in 5 rows, 2 missing.');
    await on.page.sees('“n/a” in line 5');
    await on.page.press('Take this column');
    await until(async () => {
      const { makes } = await motionNamed('Quay temperatures');
      return makes.kind === 'table' && String(makes.values) === '4.5,,6.5,,8.5';
    }, 'the numbers are kept');
    await on.page.sees('5 values');
    await on.page.press('Next');
    await on.page.sees('→ D4');
    await on.page.press('Next');
    await on.page.sees('→ A4');
    await on.page.press('Next');
    await on.page.sees('→ D5');
    await on.page.press('Traffic');
    await on.page.sees('motion Quay temperatures');
  });

  test('with too many rows is refused with the limit', async () => {
    await on.page.go(`motion/${(await motionNamed('Quay temperatures')).id}`);
    await on.ready();
    await bring(file('long.csv', '1.5\n'.repeat(2_000_000)));
    await on.page.sees('The file has more than 20,000 rows, which is the most a table takes.');
  });
});

describe('what can’t be', () => {
  test('an attack of -1 and a scale without notes are said in place', async () => {
    const envelope = await on.call<{ id: string }>('motions', 'POST', {
      name: 'Bell voices',
      makes: { kind: 'envelope' },
      begins: 'asked',
    });
    await on.page.go(`motion/${envelope.id}`);
    await on.ready();
    await on.page.type('Attack', '-1');
    expect(await on.page.problemAt('Attack')).toMatch(/^Write a time like/);
    await on.page.choose('Notes of', 'major');
    await on.page.type('From, to', 'C#4');
    expect(await on.page.problemAt('From, to')).toBe(
      'No note of the scale is in this range. Make the range larger.',
    );
  });

  test('a ring is refused and named', async () => {
    const send = (motionId: string) => makeSend({ kind: 'motion', lineId: null, motionId, act: 'speed' });
    const first = await on.call<{ id: string }>('motions', 'POST', { name: 'Ebb', sends: [] });
    const second = await on.call<{ id: string }>('motions', 'POST', {
      name: 'Flow',
      sends: [send(first.id)],
    });
    const refused = await on.call<{ message: string }>(`motions/${first.id}`, 'PATCH', {
      sends: [send(second.id)],
    });
    expect(JSON.stringify(refused)).toContain(
      'Ebb moves Flow, which moves Ebb again: a ring without an end. Choose another motion.',
    );
    await on.page.go(`motion/${first.id}`);
    await on.ready();
    await on.page.choose('Line', 'This show: banks, motions, tempo, Panic');
    await on.page.choose('Message', 'Move a motion');
    await on.page.choose('Motion', 'Flow');
    await on.page.sees('a ring without an end');
  });
});

describe('a mapping', () => {
  test('starts a motion that is made there and then, and each note has a voice while it is held', async () => {
    const made = await on.call<{ id: string }>('mappings', 'POST', {
      name: 'Voices',
      hear: { message: 'held', lineId: 'pier-pads', channels: [9, 9], numbers: [46, 47], values: 'any' },
    });
    await on.page.go(`mappings/${made.id}`);
    await on.ready();
    await on.page.chooseIn('Send', 'Line', 'This show: banks, motions, tempo, Panic');
    await on.page.chooseIn('Send', 'Message', 'Move a motion');
    await on.page.press('Make a motion');
    await on.page.press('Open Motion');
    await on.page.choose('Makes', 'Envelope');
    await on.page.type('Voices', '8');
    await until(async () => (await motionNamed('Motion')).voices === 8, 'it has voices');
    await on.page.choose('Line', 'Water screen');
    await on.page.type('Address', '/lantern/glow');
    await until(async () => (await motionNamed('Motion')).sends.length === 1, 'it sends');
    await on.playElsewhere(0x99, 46, 100, 0x99, 47, 80);
    // The other connection is gone, and with it what it held.
    await until(async () => (await running('Motion')) === 0, 'nothing hangs');
  });
});

test('twenty motions run while 5,000 messages a second pass, and the page draws', async () => {
  for (let at = 0; at < 20; at++)
    await on.call('motions', 'POST', {
      name: `Ripple ${at}`,
      makes: { kind: 'wave' },
      drive: { everyMs: 500 + at * 50 },
      sends: [makeSend({ ...WATER, args: [...WATER.args], address: `/ripple/${at}` })],
    });
  await on.page.go('motion');
  await on.ready();
  await until(async () => (await running('Ripple 19')) === 1, 'all of them run');
  const flood = flooding();
  await until(() => flood.count() > 10_000, 'many messages were played');
  await until(async () => {
    const line = await on.driver.findElement(By.xpath("//a[.//span[normalize-space()='Water screen']]"));
    return Number(/([\d,]+)\/s/.exec(await line.getText())?.[1]?.replace(',', '') ?? 0) > 700;
  }, 'they send nearly fifty times a second each');
  const before = flood.count();
  await until(() => flood.count() > before, 'they are still played');
  flood.stop();
});
