/** What is in beats follows the clock that the tide clock sends. */
import { describe, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import type { OrderSeen } from '@tawny-signal/core/live/messages';
import type { Show } from '@tawny-signal/core/show';
import type { Transport } from '@tawny-signal/core/time/transport';
import { until } from '../scripts/test-stage.js';
import { setup } from './setup.js';

const on = setup();

const call: typeof on.call = (...given) => on.call(...given);
const show = async (): Promise<Show> => (await call<{ show: Show }>('show')).show;
const tempo = async (): Promise<number> =>
  Number(await (await on.driver.findElement(By.css('[data-tempo]'))).getText());

describe('a length of time', () => {
  test('is typed in beats, said back, and what is no length is said there', async () => {
    await on.page.go('mappings/storm-go');
    await on.ready();
    await on.page.type('Delay', '2 beets');
    expect(await on.page.problemAt('Delay')).toMatch(/^Write a time like/);
    await on.page.type('Delay', '1/100 beat');
    expect(await on.page.problemAt('Delay')).toMatch(/^Write beats like 2 beats, 1\/2 beat, 1 bar/);
    await on.page.type('Delay', '1 bar on the bar');
    await on.page.sees('It follows the tempo.');
    const saved = (await show()).mappings.find(({ id }) => id === 'storm-go')!.sends[0]!;
    expect([saved.delayMs, saved.delayBeats]).toEqual([0, { beats: 4, on: 'bar' }]);
    await on.page.type('Delay', '0');
    await until(
      async () => (await show()).mappings.find(({ id }) => id === 'storm-go')!.sends[0]!.delayBeats === null,
      'it is in ms again',
    );
  });

  test('of a bar has the beats that the show says', async () => {
    await on.page.go('time/tempo');
    await on.ready();
    await on.page.type('A bar has', '33');
    expect(await on.page.problemAt('A bar has')).toMatch(/1 to 32/);
    await on.page.type('A bar has', '3 beats');
    await until(async () => (await show()).settings.beatsToBar === 3, 'it is saved');
    await until(
      async () => (await call<Transport>('desk/position', 'POST', { do: 'stop' })).bar.beats === 3,
      'it counts',
    );
    await on.page.go('mappings/storm-go');
    await on.ready();
    await on.page.type('Delay', '2 bars');
    await until(
      async () =>
        (await show()).mappings.find(({ id }) => id === 'storm-go')!.sends[0]!.delayBeats?.beats === 6,
      'two bars of three',
    );
    await call('undo', 'POST');
    await call('undo', 'POST');
  });
});

describe('a fade of sixteen beats', () => {
  const running = async (): Promise<number | null> => {
    const run = (await call<OrderSeen>('desk/order')).running.find(({ id }) => id === 'slack-water');
    return run ? run.endsAt - run.since : null;
  };
  const setClock = async (bpm: number): Promise<void> => {
    await on.page.press('Stand-ins');
    await on.page.type('Clock tempo', String(bpm));
    if (await on.page.says('Start the MIDI clock')) await on.page.press('Start the MIDI clock');
    await on.page.press('Time');
    await on.page.press('Tempo');
    await until(async () => Math.abs((await tempo()) / bpm - 1) < 0.005, `${bpm} beats a minute are heard`);
  };

  test.each([63, 118, 190])('takes them at %i beats a minute', async (bpm) => {
    const before = (await show()).moments.find(({ id }) => id === 'slack-water')!;
    const sends = before.sends.map((given) =>
      given.kind === 'levels' ? { ...given, fadeMs: 0, fadeBeats: { beats: 16, on: null } } : given,
    );
    await call('moments/slack-water', 'PATCH', { sends: sends.filter(({ kind }) => kind === 'levels') });
    await on.page.go('time/tempo');
    await on.ready();
    await setClock(bpm);
    await call('desk/order', 'POST', { do: 'call', id: 'slack-water' });
    // The clock comes from another process, which may tremble: what is told follows the tempo that is heard.
    await until(
      async () => Math.abs(((await running()) ?? 0) / ((16 * 60_000) / bpm) - 1) < 0.01,
      `it takes sixteen beats of ${bpm} a minute`,
    );
    await call('desk/order', 'POST', { do: 'stopAll', ms: 0 });
    await call('undo', 'POST');
  });

  test('ends sooner when the drummer becomes faster in the middle of it', async () => {
    const sends = [
      {
        kind: 'levels',
        lineId: 'lantern-rig',
        levels: [{ slots: [1, 1], level: 255 }],
        fadeBeats: { beats: 40, on: null },
      },
    ];
    await call('moments/slack-water', 'PATCH', { sends });
    await on.page.go('time/tempo');
    await on.ready();
    await setClock(63);
    await call('desk/order', 'POST', { do: 'call', id: 'slack-water' });
    const slow = await until(running, 'it runs');
    await setClock(190);
    await until(async () => ((await running()) ?? Infinity) < slow! * 0.7, 'it will end sooner');
    await until(async () => (await running()) === null, 'it ends', 120_000);
    await call('undo', 'POST');
  });

  test('is waited for until the bar when the moment is called', async () => {
    await call('moments/fog-bank', 'PATCH', { callOn: 'bar' });
    await call('desk/tempo', 'PUT', { bpm: 20 });
    await call('desk/order', 'POST', { do: 'standBy', id: 'fog-bank', catchUp: false });
    await on.page.press('Prompt desk');
    // A tap begins a bar now, so that its end is not just coming.
    await call('desk/tap', 'POST');
    await on.page.press('Go');
    await on.page.sees('Fog bank follows in');
    expect((await call<OrderSeen>('desk/order')).called?.id).not.toBe('fog-bank');
    await on.page.press('Go');
    await until(
      async () => (await call<OrderSeen>('desk/order')).called?.id === 'fog-bank',
      'a second Go calls it',
    );
  });
});

describe('the tempo along the position', () => {
  const marks = async (): Promise<Show['tempoMarks']> => (await show()).tempoMarks;

  test('is marked where the position is, and followed from there on', async () => {
    // The drummer still plays.
    await call('desk/tempo-source', 'PUT', { source: 'marks' });
    await call('desk/position', 'POST', { do: 'stop' });
    await call('desk/position', 'POST', { do: 'locate', ms: 3_605_000 });
    await on.page.go('time/tempo');
    await on.ready();
    await on.page.press('Mark the tempo here');
    await until(async () => (await marks()).length === 3, 'it is added');
    // It is the first of them along the position.
    await on.page.type('At', '01:00:05:29');
    expect(await on.page.problemAt('At')).toMatch(/frame/i);
    await on.page.type('At', '01:00:04:00');
    await on.page.type('Tempo', '500');
    expect(await on.page.problemAt('Tempo')).toMatch(/20 to 400/);
    await on.page.type('Tempo', '90');
    const added = async (): Promise<object | undefined> =>
      (await marks()).find(({ timecode, bpm }) => timecode === '01:00:04:00' && bpm === 90);
    await until(added, 'it is saved');
    await call('desk/position', 'POST', { do: 'playFrom', ms: 3_603_000 });
    await on.page.sees('from the marks along the position');
    await until(async () => (await tempo()) === 90, 'the tempo is shown');
    const counting = By.css('[data-tempo-mark="01:00:04:00"][data-counts="true"]');
    await until(async () => (await on.driver.findElements(counting)).length > 0, 'the mark counts');
    await call('desk/position', 'POST', { do: 'stop' });
  });

  test('has beats that moments are moved to', async () => {
    await on.page.go('time');
    await on.ready();
    await on.flip('Snap to beats');
    await on.page.go('time');
    await on.ready();
    await on.page.sees('arrows move by a beat');
    const at = async (): Promise<string | null> =>
      (await show()).moments.find(({ id }) => id === 'slack-water')!.timecode;
    const marker = By.css('[data-marker="Slack water"] button');
    await on.driver.findElement(marker).sendKeys(Key.ARROW_RIGHT);
    // A beat at 63 is 0.952 s, which are 23.8 frames.
    await until(async () => (await at()) === '01:00:15:24', 'a beat later');
    await on.driver.findElement(marker).sendKeys(Key.ARROW_RIGHT);
    await until(async () => (await at()) === '01:00:16:23', 'two beats later');
    await on.driver.findElement(marker).sendKeys(Key.ARROW_LEFT);
    await until(async () => (await at()) === '01:00:15:24', 'a beat back');
  });
});
