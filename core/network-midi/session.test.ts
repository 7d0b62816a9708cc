/**
 * Sessions between machines that are made up, on a network that is made up: no time passes but ours. The commands of the session are what programs have
 * in common (from memory); what is played is RFC 6295.
 */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { decodeCommandSection } from './command-section.js';
import { decodeRtp } from './rtp.js';
import { decodeSessionCommand, encodeSessionCommand, isSessionCommand } from './session-command.js';
import type { HowHeard, Port } from './session/host.js';
import type { Address } from './session/participant.js';
import { createSession, type Session } from './session/session.js';

const PORT = 5004;
const PRESS = [0x90, 60, 100];
const RELEASE = [0x80, 60, 64];

interface Machine {
  host: string;
  /** The time of its own clock, when the network begins. */
  ahead: number;
  session: Session;
  heard: { bytes: number[]; ageMs: number; how: HowHeard }[];
  bad: string[];
}

/** A network on which every packet takes some ms. */
function createNetwork() {
  let now = 0;
  let random = 1;
  const machines = new Map<string, Machine>();
  const onTheWay: { at: number; to: Address; port: Port; from: Address; bytes: Uint8Array }[] = [];
  const sent: { from: string; to: Address; bytes: Uint8Array }[] = [];
  /** Decides how long a packet is on its way; null if it is lost. */
  let fate: (bytes: Uint8Array) => number | null = () => 2;

  const portOf = (port: Port): number => (port === 'control' ? PORT : PORT + 1);

  function start(
    host: string,
    given: {
      calls?: string[];
      lets?: (host: string) => boolean;
      ahead?: number;
      name?: string;
      ssrc?: number;
    } = {},
  ): Machine {
    const { calls = [], lets = () => false, ahead = 0, name = host } = given;
    const machine: Machine = { host, ahead, heard: [], bad: [], session: null as never };
    machine.session = createSession(
      {
        name,
        ssrc: given.ssrc ?? (random = (random * 48_271) % 0x7fff_ffff),
        firstSequence: 65_000,
        sysexLimit: 65_536,
        mayJoin: lets,
      },
      {
        send(port, to, bytes) {
          sent.push({ from: host, to, bytes });
          const ms = fate(bytes);
          if (ms === null) return;
          const from = { host, port: portOf(port) };
          onTheWay.push({ at: now + ms, to, port: to.port === PORT ? 'control' : 'data', from, bytes });
        },
        heard: (_, bytes, ageMs, how) => machine.heard.push({ bytes: [...bytes], ageMs, how }),
        bad: (reason) => machine.bad.push(reason),
        changed: () => undefined,
        random: () => (random = (random * 48_271) % 0x7fff_ffff),
      },
    );
    for (const one of calls) machine.session.call({ host: one, port: PORT });
    machines.set(host, machine);
    return machine;
  }

  /** The next ms in which something happens. */
  function step(): void {
    now++;
    onTheWay.sort((one, other) => one.at - other.at);
    while (onTheWay[0] && onTheWay[0].at <= now) {
      const { to, port, from, bytes } = onTheWay.shift()!;
      const machine = machines.get(to.host);
      machine?.session.hear(port, from, bytes, now + machine.ahead);
    }
    for (const { session, ahead } of machines.values())
      if (session.wakeAt() <= now + ahead) session.wake(now + ahead);
  }

  return {
    start,
    sent,
    pass(ms: number): void {
      for (let n = 0; n < ms; n++) step();
    },
    /** Without a word. */
    kill: (machine: Machine) => void machines.delete(machine.host),
    play({ session, ahead }: Machine, ...commands: number[][]): boolean {
      const at = now + ahead;
      return session.play(
        commands.map((bytes) => ({ at, bytes: Uint8Array.from(bytes) })),
        at,
      );
    },
    fates: (next: (bytes: Uint8Array) => number | null) => void (fate = next),
    send: (from: Address, to: string, port: Port, bytes: Uint8Array) =>
      void onTheWay.push({ at: now, from, to: { host: to, port: portOf(port) }, port, bytes }),
  };
}

const here = ({ session }: Machine): string[] =>
  session
    .participants()
    .filter(({ isProven }) => isProven)
    .map(({ name }) => name);
const bytesOf = ({ heard }: Machine): number[][] => heard.map(({ bytes }) => bytes);
const anyone = (): boolean => true;

describe('two machines', () => {
  test('meet where one calls the other, and hear each other', () => {
    const network = createNetwork();
    const stage = network.start('stage', { calls: ['house'], name: 'Stage' });
    const house = network.start('house', { lets: anyone, name: 'Front of house', ahead: 5_000_000 });
    network.pass(20);
    expect([here(stage), here(house)]).toEqual([['Front of house'], ['Stage']]);
    expect(network.play(stage, PRESS)).toBe(true);
    expect(network.play(house, RELEASE)).toBe(true);
    network.pass(3);
    expect([bytesOf(house), bytesOf(stage)]).toEqual([[PRESS], [RELEASE]]);
  });

  test.each([['stage'], ['house']])('meet when %s starts later', (later) => {
    const network = createNetwork();
    const start = (host: string) =>
      network.start(host, host === 'stage' ? { calls: ['house'] } : { lets: anyone });
    const first = start(later === 'stage' ? 'house' : 'stage');
    network.pass(20_000);
    const second = start(later);
    network.pass(4100);
    expect([here(first), here(second)]).toEqual([[second.host], [first.host]]);
  });

  test('that call each other meet once', () => {
    for (const [one, other] of [
      [1, 2],
      [2, 1],
    ] as const) {
      const network = createNetwork();
      const stage = network.start('stage', { calls: ['house'], ssrc: one });
      const house = network.start('house', { calls: ['stage'], ssrc: other });
      network.pass(30_000);
      expect([here(stage), here(house)]).toEqual([['house'], ['stage']]);
      network.play(stage, PRESS);
      network.pass(10);
      expect(bytesOf(house)).toEqual([PRESS]);
    }
  });

  test('tell how late the other one is, and how far its clock is ahead', () => {
    const network = createNetwork();
    const stage = network.start('stage', { calls: ['house'] });
    const house = network.start('house', { lets: anyone, ahead: 60_000 });
    network.pass(5000);
    for (const [machine, ahead] of [
      [stage, 60_000],
      [house, -60_000],
    ] as const) {
      const { clock } = machine.session.participants()[0]!;
      expect(clock.latencyMs()).toBeCloseTo(2, 0);
      expect(clock.offsetMs(0)!).toBeCloseTo(ahead, 0);
      expect(clock.latencies().length).toBeGreaterThanOrEqual(5);
    }
  });

  test('give what is heard the time when it was played, however long it was on its way', () => {
    const network = createNetwork();
    const stage = network.start('stage', { calls: ['house'], ahead: 1234 });
    const house = network.start('house', { lets: anyone });
    network.pass(5000);
    network.fates(() => 37);
    network.play(stage, PRESS);
    network.pass(40);
    expect(house.heard[0]!.ageMs).toBeCloseTo(37, 0);
  });

  test('part with a goodbye, and what was down is released', () => {
    const network = createNetwork();
    const stage = network.start('stage', { calls: ['house'] });
    const house = network.start('house', { lets: anyone });
    network.pass(20);
    network.play(stage, PRESS);
    network.pass(10);
    stage.session.close(30);
    network.pass(10);
    expect([here(stage), here(house)]).toEqual([[], []]);
    expect(bytesOf(house)).toEqual([PRESS, RELEASE]);
    expect(network.play(house, PRESS)).toBe(false);
  });

  test('that part are each sent the releases of what the other holds there, before the goodbye', () => {
    const network = createNetwork();
    const stage = network.start('stage', { calls: ['house', 'tower'] });
    const house = network.start('house', { lets: anyone });
    const tower = network.start('tower', { lets: anyone });
    network.pass(20);
    const PEDAL = [0xb0, 64, 127];
    network.play(stage, PRESS, PEDAL);
    network.pass(10);
    const before = network.sent.length;
    house.session.close(30);
    network.pass(10);
    // The one that leaves: from then on it is nobody’s, but its sound was let go on the way out (RFC 6295 packets to its data port).
    const toHouse = network.sent
      .slice(before)
      .filter(({ from, to, bytes }) => from === 'stage' && to.host === 'house' && !isSessionCommand(bytes))
      .map(({ bytes }) =>
        decodeCommandSection(decodeRtp(bytes).payload).commands.map((one) => [...one.bytes]),
      );
    expect(toHouse).toContainEqual([RELEASE, [0xb0, 64, 0]]);
    // The others go on with the note, and miss no packet.
    expect(bytesOf(tower)).toEqual([PRESS, PEDAL]);
    network.play(stage, RELEASE);
    network.pass(10);
    expect(bytesOf(tower)).toEqual([PRESS, PEDAL, RELEASE]);
    expect(tower.session.participants()[0]!.lost).toBe(0);
    // Whoever throws somebody out says so after the releases.
    stage.session.close(60);
    const last = network.sent.filter(({ to }) => to.host === 'tower').slice(-3);
    expect(last.map(({ bytes }) => isSessionCommand(bytes))).toEqual([false, false, true]);
  });

  test('stay together while anything comes, however late one of them answers about its clock', () => {
    const network = createNetwork();
    const stage = network.start('stage', { calls: ['house'] });
    const house = network.start('house', { lets: anyone });
    network.pass(5000);
    const isClock = (bytes: Uint8Array): boolean =>
      isSessionCommand(bytes) && decodeSessionCommand(bytes).kind === 'clock';
    const invitations = (): number =>
      network.sent.filter(({ bytes }) => isSessionCommand(bytes) && 'token' in decodeSessionCommand(bytes))
        .length;
    const met = invitations();
    for (const late of [450, 800, null]) {
      network.fates((bytes) => (isClock(bytes) ? late : 2));
      for (let n = 0; n < 30; n++) {
        network.play(stage, n % 2 ? RELEASE : PRESS);
        network.pass(1000);
        expect([here(stage), here(house)]).toEqual([['house'], ['stage']]);
      }
    }
    expect(invitations()).toBe(met);
    expect(bytesOf(house)).toHaveLength(90);
  });

  test.each([
    ['the one that is called', 'house', 500],
    ['the one that calls', 'stage', 500],
  ])('meet again when %s was killed and comes back', (_, killed, withinMs) => {
    const network = createNetwork();
    const start = {
      stage: () => network.start('stage', { calls: ['house'] }),
      house: () => network.start('house', { lets: anyone }),
    };
    let stage = start.stage();
    let house = start.house();
    network.pass(8000);
    network.kill(killed === 'house' ? house : stage);
    network.pass(200);
    if (killed === 'house') house = start.house();
    else stage = start.stage();
    // Something is played, so that it is noticed at once.
    let waited = 0;
    for (house.heard.length = 0; house.heard.length === 0 && waited < 20_000; waited += 20) {
      network.play(stage, PRESS, RELEASE);
      network.pass(20);
    }
    network.pass(3000);
    expect([here(stage), here(house)]).toEqual([['house'], ['stage']]);
    expect(waited).toBeLessThanOrEqual(withinMs);
  });

  test('a machine that is gone without a word is noticed, by whoever calls and by whoever is called', () => {
    const network = createNetwork();
    const stage = network.start('stage', { calls: ['house'] });
    const house = network.start('house', { lets: anyone });
    const lights = network.start('lights', { calls: ['stage'] });
    network.pass(8000);
    network.kill(house);
    network.pass(15_000);
    expect(here(stage)).toEqual([]);
    expect(here(lights)).toEqual([]);
  });
});

test('what is down is released after 15 s in which nothing comes, and what comes then is played', () => {
  const network = createNetwork();
  const stage = network.start('stage', { calls: ['house'] });
  const house = network.start('house', { lets: anyone });
  network.pass(8000);
  network.play(stage, PRESS);
  network.pass(2000);
  network.fates(() => null);
  network.pass(12_000);
  expect(bytesOf(house)).toEqual([PRESS]);
  network.pass(2000);
  expect(bytesOf(house)).toEqual([PRESS, RELEASE]);
  network.fates(() => 2);
  network.pass(8000);
  network.play(stage, RELEASE);
  network.play(stage, PRESS);
  network.pass(100);
  expect(bytesOf(house).at(-1)).toEqual(PRESS);
});

test('a note that is held for minutes goes on', () => {
  const network = createNetwork();
  const stage = network.start('stage', { calls: ['house'] });
  const house = network.start('house', { lets: anyone });
  network.pass(8000);
  network.play(stage, PRESS);
  network.pass(180_000);
  expect(bytesOf(house)).toEqual([PRESS]);
});

describe('who may come in', () => {
  const invitation = (token: number, ssrc = 77, name = 'Stranger'): Uint8Array =>
    encodeSessionCommand({ kind: 'invitation', token, ssrc, name });

  test('somebody who may not is refused, and is in the list', () => {
    const network = createNetwork();
    const stage = network.start('stage', { calls: ['house'], name: 'Stage' });
    const house = network.start('house', { lets: (host) => host === 'lights' });
    network.pass(3000);
    expect(here(house)).toEqual([]);
    expect(house.session.refused()).toMatchObject([{ name: 'Stage', host: 'stage' }]);
    expect(stage.session.calls()[0]!.isRefused).toBe(true);
  });

  test('an invitation is answered ten times a second, with no more than it weighs', () => {
    const network = createNetwork();
    const house = network.start('house', {});
    for (let n = 0; n < 500; n++)
      network.send({ host: `10.0.0.${n % 250}`, port: 5004 }, 'house', 'control', invitation(n, n));
    network.pass(500);
    const answers = network.sent.filter(({ from }) => from === 'house');
    expect(answers).toHaveLength(10);
    for (const { bytes } of answers) expect(bytes.length).toBeLessThanOrEqual(invitation(0).length);
    expect(house.session.refused().length).toBeLessThanOrEqual(16);
  });

  test('nothing is played to, or heard of, somebody who only says where it is', () => {
    const network = createNetwork();
    const house = network.start('house', { lets: anyone });
    const from = { host: 'nowhere', port: 5004 };
    network.send(from, 'house', 'control', invitation(5));
    network.pass(1);
    network.send({ ...from, port: 5005 }, 'house', 'data', invitation(5));
    network.pass(1);
    expect(house.session.participants()).toHaveLength(1);
    expect(network.play(house, PRESS)).toBe(false);
    network.pass(10_001);
    expect(house.session.participants()).toHaveLength(0);
  });

  test('what strangers send does nothing', () => {
    const network = createNetwork();
    const stage = network.start('stage', { calls: ['house'] });
    const house = network.start('house', { lets: (host) => host === 'stage' });
    network.pass(20);
    const before = network.sent.length;
    const { ssrc, token } = house.session.participants()[0]!;
    const from = { host: 'elsewhere', port: 5004 };
    const strange = [
      encodeSessionCommand({ kind: 'goodbye', token, ssrc, name: '' }),
      encodeSessionCommand({ kind: 'feedback', ssrc, sequence: 65_000 }),
      encodeSessionCommand({ kind: 'clock', ssrc, count: 0, times: [1n, 0n, 0n] }),
      Uint8Array.of(0x80, 97, 0, 1, 0, 0, 0, 0, ...new Uint8Array(4), 0x03, ...PRESS),
      Uint8Array.of(1, 2, 3),
    ];
    for (const bytes of strange)
      for (const port of ['control', 'data'] as const) network.send(from, 'house', port, bytes);
    network.pass(5);
    expect(here(house)).toEqual(['stage']);
    expect(here(stage)).toEqual(['house']);
    expect(house.heard).toEqual([]);
    expect(network.sent.length - before).toBe(0);
    expect(house.bad.length).toBeGreaterThanOrEqual(4);
  });

  test('any bytes from anybody throw nothing', () => {
    const network = createNetwork();
    const house = network.start('house', { lets: anyone });
    const bytes = fc.oneof(
      fc.uint8Array({ maxLength: 60 }),
      fc
        .tuple(fc.constantFrom('IN', 'OK', 'NO', 'BY', 'CK', 'RS', 'RL'), fc.uint8Array({ maxLength: 60 }))
        .map(([letters, rest]) =>
          Uint8Array.of(0xff, 0xff, letters.charCodeAt(0), letters.charCodeAt(1), ...rest),
        ),
    );
    fc.assert(
      fc.property(bytes, fc.constantFrom<Port>('control', 'data'), (given, port) => {
        house.session.hear(port, { host: 'x', port: 1 }, given, 0);
        expect(house.session.participants().length).toBeLessThanOrEqual(32);
      }),
      { numRuns: 5000 },
    );
  });

  test('the machine itself is not let in', () => {
    const network = createNetwork();
    const house = network.start('house', { calls: ['house'], lets: anyone });
    network.pass(3000);
    expect(here(house)).toEqual([]);
  });
});

describe('on a bad network', () => {
  test.each([1, 5, 20])(
    'of which %i %% are lost, every note ends, and all that is sent is heard or made good',
    (percent) => {
      const network = createNetwork();
      const stage = network.start('stage', { calls: ['house'] });
      const house = network.start('house', { lets: anyone });
      network.pass(3000);
      let seed = percent;
      const chance = (): number => (seed = (seed * 48_271) % 0x7fff_ffff) / 0x7fff_ffff;
      network.fates(() => (chance() * 100 < percent ? null : 1 + chance() * 8));
      const down = new Set<number>();
      for (let n = 0; n < 1500; n++) {
        const note = 40 + Math.floor(chance() * 30);
        if (down.has(note)) network.play(stage, [0x80, note, 64]);
        else
          network.play(
            stage,
            [0x90, note, 1 + Math.floor(chance() * 127)],
            [0xb0, 1, Math.floor(chance() * 128)],
          );
        if (!down.delete(note)) down.add(note);
        network.pass(Math.floor(chance() * 40));
      }
      for (const note of down) network.play(stage, [0x80, note, 64]);
      network.play(stage, [0xb0, 1, 99]);
      network.pass(2000);
      const sounding = new Set<number>();
      for (const [status, note] of bytesOf(house)) {
        if (status === 0x90) sounding.add(note!);
        if (status === 0x80) sounding.delete(note!);
      }
      expect([...sounding]).toEqual([]);
      expect(bytesOf(house).findLast(([status]) => status === 0xb0)).toEqual([0xb0, 1, 99]);
      const { lost, recovered } = house.session.participants()[0]!;
      expect(lost).toBeGreaterThan(0);
      expect(recovered).toBeGreaterThan(0);
      expect(house.bad.filter((reason) => !reason.includes('somebody'))).toEqual([]);
    },
  );

  test('what was lost last is made good without anything else being played', () => {
    const network = createNetwork();
    const stage = network.start('stage', { calls: ['house'] });
    const house = network.start('house', { lets: anyone });
    network.pass(1000);
    network.play(stage, PRESS);
    network.pass(100);
    let lost = 0;
    network.fates((bytes) => (isSessionCommand(bytes) || ++lost > 1 ? 2 : null));
    network.play(stage, RELEASE);
    network.pass(20);
    expect(bytesOf(house)).toEqual([PRESS, RELEASE]);
  });

  test('who wants fewer bits a second gets them, with the times when it was played, and loses nothing', () => {
    const network = createNetwork();
    const house = network.start('house', { lets: anyone });
    const stage = network.start('stage', { calls: ['house'] });
    network.pass(1000);
    const { ssrc } = stage.session.participants()[0]!;
    const limit = (bits: number): void =>
      network.send(
        { host: 'house', port: PORT },
        'stage',
        'control',
        encodeSessionCommand({ kind: 'bitrate', ssrc, bits }),
      );
    /** Bits in packets of MIDI to the house while 200 notes are played within 400 ms, and until all is confirmed. */
    function bitsASecond(): number {
      network.sent.length = 0;
      house.heard.length = 0;
      for (let note = 0; note < 200; note++) {
        network.play(stage, [0x90, note % 100, 1 + (note % 100)], [0x80, note % 100, 64]);
        network.pass(2);
      }
      network.pass(100);
      const octets = network.sent
        .filter(({ from, bytes }) => from === 'stage' && !isSessionCommand(bytes))
        .reduce((sum, { bytes }) => sum + bytes.length, 0);
      expect(house.heard.filter(({ how }) => how === 'played')).toHaveLength(400);
      expect(house.heard.map(({ bytes }) => bytes[0]).filter((status) => status === 0x80)).toHaveLength(200);
      return octets * 16;
    }
    const free = bitsASecond();
    limit(40_000);
    network.pass(10);
    const slow = bitsASecond();
    expect(free).toBeGreaterThan(90_000);
    expect(slow).toBeLessThan(48_000);
    // Less than a MIDI cable carries is not asked of the others.
    limit(1);
    network.pass(10);
    network.play(stage, PRESS);
    network.pass(1000);
    expect(bytesOf(house)).toContainEqual(PRESS);
    // What waits is played before the goodbye.
    network.play(stage, [0xb0, 7, 1]);
    network.play(stage, [0xb0, 7, 99]);
    stage.session.close(1_000_000);
    network.pass(10);
    expect(bytesOf(house)).toContainEqual([0xb0, 7, 99]);
  });

  test('packets without commands end when all is confirmed', () => {
    const network = createNetwork();
    const stage = network.start('stage', { calls: ['house'] });
    network.start('house', { lets: anyone });
    network.pass(8000);
    network.play(stage, PRESS, RELEASE);
    network.pass(500);
    const before = network.sent.length;
    network.pass(1000);
    expect(network.sent.length).toBe(before);
    const feedback = network.sent.filter(
      ({ bytes }) => isSessionCommand(bytes) && decodeSessionCommand(bytes).kind === 'feedback',
    );
    expect(feedback.length).toBeGreaterThan(0);
  });
});
