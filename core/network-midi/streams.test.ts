/**
 * Two machines with a bad network between them. What must hold is the mandate of RFC 6295, section 4: after any loss, what sounds at the far end is what
 * the sender has said, and nothing hangs. The rig below is a device of our own making that plays what it gets.
 */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { createHistory, takeCommand } from './history/history.js';
import { MOST_PARAMETERS } from './history/parameter-history.js';
import { decodeRtp, NetworkMidiError } from './rtp.js';
import { createStreamIn, type HeardPacket } from './stream-in.js';
import { createStreamOut, type OutgoingCommand } from './stream-out.js';

/** A parameter that was stepped up and down again is as one that nobody has touched. */
const UNTOUCHED = JSON.stringify({ msb: 0, lsb: 0, steps: 0 });

/** A device: what it was told counts, as MIDI 1.0 and RP-015 (reset all controllers) have it. */
function createRig() {
  const values = new Map<string, unknown>();
  const presses = new Map<string, number>();
  const down = new Set<string>();
  const chosen = new Map<number, string>();
  const banks = new Map<number, string>();
  let sysex: number[][] = [];
  let song = { runs: false, played: false, clocks: 0 };

  function control(channel: number, number: number, value: number): void {
    const of = (what: string): string => `${channel} ${what}`;
    const reset = number === 121;
    if (number === 99 || number === 101) chosen.set(channel, `${number - 1} ${value * 128}`);
    else if (number === 98 || number === 100) {
      const msb = Number(chosen.get(channel)?.split(' ')[1] ?? 0) & 0x3f80;
      const whole = `${number} ${msb + value}`;
      if (whole.endsWith(' 16383')) chosen.delete(channel);
      else chosen.set(channel, whole);
    } else if ([6, 38, 96, 97].includes(number) && chosen.has(channel)) {
      const at = of(`parameter ${chosen.get(channel)}`);
      const { msb, lsb, steps } = (values.get(at) ?? { msb: 0, lsb: 0, steps: 0 }) as Record<string, number>;
      if (number === 6) values.set(at, { msb: value, lsb: 0, steps: 0 });
      else if (number === 38) values.set(at, { msb, lsb: value, steps: 0 });
      else values.set(at, { msb, lsb, steps: steps! + (number === 96 ? 1 : -1) });
    } else values.set(of(`controller ${number}`), value);
    if (number === 0) banks.set(channel, `${value} 0`);
    if (number === 32 && banks.has(channel))
      banks.set(channel, `${banks.get(channel)!.split(' ')[0]} ${value}`);
    if (number === 120 || number >= 123) {
      for (const note of [...down]) if (note.startsWith(`${channel} `)) down.delete(note);
      values.delete(of('pressure'));
    }
    if (!reset) return;
    chosen.delete(channel);
    for (const at of [...values.keys()])
      if (at === of('bend') || at === of('pressure') || at.startsWith(of('pressure of'))) values.delete(at);
    for (const pedal of [64, 65, 66, 67]) values.delete(of(`controller ${pedal}`));
  }

  return {
    presses,
    down,
    song: () => song,
    /** The messages that were heard, without full frames. */
    sysex: () => sysex,
    all: () => ({
      values: Object.fromEntries(
        [...values].filter(([, value]) => JSON.stringify(value) !== UNTOUCHED).sort(),
      ),
      chosen: Object.fromEntries(chosen),
    }),
    play(bytes: Uint8Array): void {
      const [status, first, second] = [bytes[0]!, bytes[1]!, bytes[2]!];
      const channel = status & 15;
      const note = `${channel} ${first}`;
      if (status >= 0x90 && status <= 0x9f && second > 0) {
        presses.set(note, (presses.get(note) ?? 0) + 1);
        down.add(note);
      } else if (status < 0xa0) down.delete(note);
      else if (status < 0xb0) values.set(`${channel} pressure of ${first}`, second);
      else if (status < 0xc0) control(channel, first, second);
      else if (status < 0xd0)
        values.set(`${channel} program`, `${first} of ${banks.get(channel) ?? 'no bank'}`);
      else if (status < 0xe0) values.set(`${channel} pressure`, first);
      else if (status < 0xf0) values.set(`${channel} bend`, first + second * 128);
      else if (status === 0xf0 && bytes[3] === 1 && bytes[4] === 1)
        values.set('timecode', [...bytes.subarray(5, 9)].join(':'));
      else if (status === 0xf0) sysex.push([...bytes]);
      else if (status === 0xf3) values.set('song', first);
      else if (status === 0xfa) song = { runs: true, played: false, clocks: 0 };
      else if (status === 0xfb) song = { ...song, runs: true };
      else if (status === 0xfc) song = { ...song, runs: false };
      else if (status === 0xf2) song = { ...song, played: false, clocks: (first + second * 128) * 6 };
      else if (status === 0xf8 && song.runs)
        song = song.played ? { ...song, clocks: song.clocks + 1 } : { ...song, played: true };
      else if (status === 0xff) {
        values.clear();
        down.clear();
        chosen.clear();
        banks.clear();
        sysex = [];
        song = { runs: false, played: false, clocks: 0 };
      }
    },
  };
}

const SSRC = 0x1234_5678;

/** A stage and a front of house. What the one says reaches the other as fate has it. */
function pair(firstSequence = 65_530) {
  const out = createStreamOut(SSRC, firstSequence);
  const into = createStreamIn(65_536);
  const here = createRig();
  const far = createRig();
  const heard: HeardPacket[] = [];
  let now = 0;
  function arrive(bytes: Uint8Array): void {
    const packet = into.take(decodeRtp(bytes), now);
    if (typeof packet === 'string') return;
    heard.push(packet);
    for (const command of packet.commands) far.play(command.bytes);
  }
  return {
    here,
    far,
    heard,
    pass: (ms: number) => void (now += ms),
    arrive,
    /** @returns the packets */
    say(...commands: number[][]): Uint8Array[] {
      const all = commands.map((bytes): OutgoingCommand => ({ at: now, bytes: Uint8Array.from(bytes) }));
      for (const { bytes } of all) here.play(bytes);
      return out.packets(all, now);
    },
    /** The far end says what it has heard. */
    confirm(): void {
      const sequence = into.heardTo();
      const number = sequence === null ? null : out.numberOf(sequence);
      if (number !== null) out.forget(number + 1);
    },
    /** As a sender that forgets what nobody has confirmed. */
    forgetAll: () => out.forget(out.next),
    into,
  };
}

const anyOf = (...values: number[]) => fc.constantFrom(...values);
const byte = fc.nat(127);
const channel = fc.nat(1);
/** Few notes and numbers, so that they meet each other. */
const note = fc.nat(3).map((n) => 60 + n);
const parameter = fc.tuple(anyOf(98, 100), fc.nat(2), fc.nat(1)).map(([lsb, number, high]) => ({
  lsb,
  msb: lsb + 1,
  number,
  high,
}));
const command: fc.Arbitrary<number[][]> = fc.oneof(
  fc.tuple(channel, note, fc.nat(127)).map(([c, n, v]) => [[0x90 | c, n, v]]),
  fc.tuple(channel, note, byte).map(([c, n, v]) => [[0x80 | c, n, v]]),
  fc.tuple(channel, note, byte).map(([c, n, v]) => [[0xa0 | c, n, v]]),
  fc
    .tuple(channel, anyOf(0, 1, 6, 7, 32, 38, 64, 65, 74, 96, 97, 120, 121, 123, 126), byte)
    .map(([c, n, v]) => [[0xb0 | c, n, v]]),
  fc.tuple(channel, parameter, anyOf(6, 38, 96, 97), byte).map(([c, { msb, lsb, high, number }, what, v]) => [
    [0xb0 | c, msb, high],
    [0xb0 | c, lsb, number],
    [0xb0 | c, what, v],
  ]),
  channel.map((c) => [
    [0xb0 | c, 101, 127],
    [0xb0 | c, 100, 127],
  ]),
  fc.tuple(channel, byte).map(([c, v]) => [[0xc0 | c, v]]),
  fc.tuple(channel, byte).map(([c, v]) => [[0xd0 | c, v]]),
  fc.tuple(channel, byte, byte).map(([c, a, b]) => [[0xe0 | c, a, b]]),
  anyOf(0xf8, 0xf8, 0xfa, 0xfb, 0xfc).map((status) => [[status]]),
  fc.tuple(byte, fc.nat(3)).map(([a, b]) => [[0xf2, a, b]]),
  byte.map((v) => [[0xf3, v]]),
  fc.tuple(byte, byte).map(([a, b]) => [[0xf0, 0x7f, 0x7f, 1, 1, 33, a % 60, b % 60, 0, 0xf7]]),
);
/** What becomes of a packet: how many others overtake it, and whether it comes again. */
interface Fate {
  lost: boolean;
  overtakenBy: number;
  twice: boolean;
  confirmed: boolean;
  /** Until the next one is sent, in ms. */
  pause: number;
}
const fate: fc.Arbitrary<Fate> = fc.record({
  lost: fc.integer({ min: 0, max: 9 }).map((n) => n < 3),
  overtakenBy: fc.oneof({ weight: 4, arbitrary: fc.constant(0) }, { weight: 1, arbitrary: fc.nat(3) }),
  twice: fc.integer({ min: 0, max: 9 }).map((n) => n === 0),
  confirmed: fc.boolean(),
  pause: anyOf(0, 0, 1, 5),
});

/** The same runs each time. Others were tried beside: 600,000 of the values and 200,000 of each other one, the last with nothing found. */
const CHECK = { numRuns: 3000, seed: 6295 };

/** Plays all with a bad network, and then a packet that arrives. */
function perform(plays: readonly [number[][], Fate][], slower = 1) {
  const both = pair();
  const onTheWay: { bytes: Uint8Array; overtakenBy: number }[] = [];
  const deliver = (): void => {
    for (const one of onTheWay.splice(0)) {
      if (one.overtakenBy-- > 0) onTheWay.push(one);
      else both.arrive(one.bytes);
    }
  };
  for (const [commands, { lost, overtakenBy, twice, confirmed, pause }] of plays) {
    for (const bytes of both.say(...commands)) {
      if (!lost) onTheWay.push({ bytes, overtakenBy });
      if (twice) onTheWay.push({ bytes, overtakenBy: overtakenBy + 1 });
    }
    deliver();
    both.pass(pause * slower);
    if (confirmed) both.confirm();
  }
  for (let n = 0; n < 5; n++) deliver();
  for (const bytes of both.say()) both.arrive(bytes);
  return both;
}

describe('after any loss, repetition and order', () => {
  test('all values at the far end are those of the sender', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(command, fate), { maxLength: 60 }), (plays) => {
        const { here, far } = perform(plays);
        expect(far.all()).toEqual(here.all());
      }),
      CHECK,
    );
  });

  test('the same notes are down at both ends while they are fresh', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(command, fate), { maxLength: 15 }), (plays) => {
        const { here, far } = perform(plays);
        expect([...far.down].sort()).toEqual([...here.down].sort());
      }),
      CHECK,
    );
  });

  test('no note hangs, however long ago it was, and none is pressed more often than it was', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(command, fate), { maxLength: 60 }), (plays) => {
        const { here, far } = perform(plays, 100);
        for (const one of far.down) expect(here.down).toContain(one);
        for (const [one, count] of far.presses) expect(count).toBeLessThanOrEqual(here.presses.get(one)!);
      }),
      CHECK,
    );
  });

  test('the song runs where it runs at the sender, and is as far', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(command, fate), { maxLength: 60 }), (plays) => {
        const { here, far } = perform(plays);
        expect(far.song()).toEqual(here.song());
      }),
      CHECK,
    );
  });
});

describe('what is made good', () => {
  test('data entry that was sent while no parameter was chosen is a controller at the far end, too', () => {
    const both = pair();
    hear(both, both.say([0xb0, 99, 0], [0xb0, 98, 5], [0xb0, 6, 7]));
    lose(both.say([0xb0, 101, 127], [0xb0, 100, 127]));
    lose(both.say([0xb0, 96, 0]));
    hear(both, both.say());
    expect(lastPlayed(both)).toEqual([
      [0xb0, 101, 127],
      [0xb0, 100, 127],
      [0xb0, 96, 0],
    ]);
  });

  const PRESS = [0x90, 60, 100];
  const RELEASE = [0x80, 60, 64];
  const LATER = [0xb0, 7, 90];
  /** What the far end played for the last packet. */
  const lastPlayed = ({ heard }: ReturnType<typeof pair>): number[][] =>
    heard.at(-1)!.commands.map(({ bytes }) => [...bytes]);
  const lose = (packets: Uint8Array[]): void => expect(packets.length).toBeGreaterThan(0);
  function hear(both: ReturnType<typeof pair>, packets: Uint8Array[]): void {
    for (const bytes of packets) both.arrive(bytes);
  }

  test('a release that was lost comes with the next packet, once', () => {
    const both = pair();
    hear(both, both.say(PRESS));
    lose(both.say(RELEASE));
    hear(both, both.say(LATER));
    expect(lastPlayed(both)).toEqual([RELEASE, LATER]);
    expect(both.heard.at(-1)).toMatchObject({ lost: 1, repaired: 1, bad: [] });
    lose(both.say(LATER));
    hear(both, both.say(LATER));
    expect(lastPlayed(both)).toEqual([LATER]);
  });

  test('releases come before presses, in whatever order they were lost', () => {
    const both = pair();
    hear(both, both.say(PRESS));
    lose(both.say([0x90, 62, 80], RELEASE));
    hear(both, both.say());
    expect(lastPlayed(both)).toEqual([RELEASE, [0x90, 62, 80]]);
  });

  test('a press of less than 100 ms ago is played, an older one is made good as its release', () => {
    for (const [ms, played] of [
      [100, PRESS],
      [101, RELEASE],
    ] as const) {
      const both = pair();
      hear(both, both.say(LATER));
      lose(both.say(PRESS));
      both.pass(ms);
      hear(both, both.say());
      expect(lastPlayed(both)).toEqual([played]);
      lose(both.say());
      hear(both, both.say());
      expect(lastPlayed(both)).toEqual([]);
    }
  });

  test('a pedal that was lifted and pressed again is lifted and pressed again', () => {
    const both = pair();
    const [down, up] = [
      [0xb0, 64, 127],
      [0xb0, 64, 0],
    ];
    hear(both, both.say(down!));
    lose(both.say(up!, down!));
    hear(both, both.say());
    expect(lastPlayed(both)).toEqual([up, down]);
  });

  test('the first packet that is heard tells what was said before it', () => {
    const both = pair();
    lose(both.say(LATER, PRESS));
    hear(both, both.say());
    expect(lastPlayed(both)).toEqual([LATER, PRESS]);
  });

  test('a short system-exclusive message is sent again, if it may be a second old at most', () => {
    const go = [0xf0, 0x7f, 1, 2, 1, 1, 0xf7];
    for (const [ms, played, bad] of [
      [1000, [go], []],
      [1001, [], ['1 system-exclusive messages were lost']],
    ] as const) {
      const both = pair();
      hear(both, both.say(go));
      lose(both.say(go));
      both.pass(ms);
      hear(both, both.say());
      expect(lastPlayed(both)).toEqual(played);
      expect(both.heard.at(-1)!.bad).toEqual(bad);
      lose(both.say());
      hear(both, both.say());
      expect(lastPlayed(both)).toEqual([]);
    }
  });

  test('a long system-exclusive message goes in parts, and is told as lost if one of them is', () => {
    const long = [0xf0, ...Array.from({ length: 3000 }, (_, n) => n % 128), 0xf7];
    const both = pair();
    const whole = both.say(long);
    expect(whole).toHaveLength(4);
    hear(both, whole);
    expect(both.far.sysex()).toEqual([long]);
    const parts = both.say(long);
    hear(both, [parts[0]!, parts[2]!, parts[3]!]);
    expect(both.far.sysex()).toEqual([long]);
    expect(both.heard.flatMap(({ bad }) => bad)).toContain(
      'a system-exclusive message of which a part was lost',
    );
  });

  test('a gap that the journal does not reach back to releases what it does not tell of', () => {
    const forgetful = pair();
    hear(forgetful, forgetful.say(PRESS, [0x90, 62, 80]));
    lose(forgetful.say(RELEASE));
    forgetful.forgetAll();
    hear(forgetful, forgetful.say(LATER));
    expect(lastPlayed(forgetful)).toEqual([[0x80, 60, 64], [0x80, 62, 64], LATER]);
    expect(forgetful.heard.at(-1)!.bad).toEqual(['a journal that does not reach back to what was lost']);
  });

  test('a journal that can’t be read is passed over, and the commands are played', () => {
    const both = pair();
    hear(both, both.say(PRESS));
    lose(both.say(RELEASE));
    const [packet] = both.say(LATER);
    hear(both, [packet!.subarray(0, -1)]);
    expect(lastPlayed(both)).toEqual([LATER]);
    expect(both.heard.at(-1)!.bad).toEqual(['a journal that can’t be read: a journal that breaks off']);
  });

  test('what comes twice, or late, is not played', () => {
    const both = pair();
    const [first] = both.say(PRESS);
    const [second] = both.say(RELEASE);
    const [third] = both.say(LATER);
    hear(both, [first!, third!]);
    const take = (bytes: Uint8Array): unknown => both.into.take(decodeRtp(bytes), 0);
    expect(take(second!)).toBe('late');
    expect(take(second!)).toBe('twice');
    expect(take(first!)).toBe('twice');
    expect(both.far.down.size).toBe(0);
  });

  // RFC 3550, appendix A.1.
  test('one packet from far away is left out; after a second one the stream goes on there', () => {
    const both = pair(1000);
    hear(both, both.say(PRESS));
    const away = pair(40_000);
    const take = (bytes: Uint8Array): unknown => both.into.take(decodeRtp(bytes), 0);
    expect(take(away.say(LATER)[0]!)).toBe('astray');
    hear(both, away.say(LATER));
    expect(lastPlayed(both)).toEqual([RELEASE, LATER, LATER]);
  });

  test('what is down is released when the participant is gone', () => {
    const both = pair();
    hear(both, both.say(PRESS, [0x95, 30, 1], RELEASE));
    expect(both.into.release(0)).toEqual([Uint8Array.of(0x85, 30, 64)]);
  });
});

describe('packets from anybody', () => {
  test('throw nothing but the one error, and bring no more than is bounded', () => {
    fc.assert(
      fc.property(fc.array(fc.uint8Array({ maxLength: 200 }), { maxLength: 20 }), (payloads) => {
        const into = createStreamIn(1000);
        payloads.forEach((payload, at) => {
          try {
            const sequence = at * 2;
            const header = { marker: true, payloadType: 97, sequence, timestamp: 0, ssrc: 1 };
            const heard = into.take({ ...header, payload }, at);
            if (typeof heard !== 'string') expect(heard.commands.length).toBeLessThanOrEqual(4096 + 200);
          } catch (error) {
            expect(error).toBeInstanceOf(NetworkMidiError);
          }
        });
      }),
      { numRuns: 2000 },
    );
  });

  test('a journal that asks for thousands of steps brings some of them', () => {
    const both = pair();
    for (const bytes of both.say(
      [0xb0, 101, 0],
      [0xb0, 100, 1],
      ...Array.from({ length: 9000 }, () => [0xb0, 96, 0]),
    ))
      expect(bytes.length).toBeLessThan(1500);
    both.arrive(both.say()[0]!);
    expect(both.heard[0]!.commands).toHaveLength(4096);
    expect(both.heard[0]!.bad).toEqual(['more was lost than a packet may make good']);
    // What did not fit does not count as done, so no more than that was worked through.
    both.say();
    both.arrive(both.say()[0]!);
    expect(both.heard[1]!.commands.length).toBeGreaterThan(4000);
  });

  test('of thousands of parameters the youngest are kept', () => {
    const history = createHistory();
    for (let number = 0; number < 2000; number++)
      for (const [controller, value] of [
        [99, number >> 7],
        [98, number & 127],
        [6, 1],
      ] as const)
        takeCommand(history, Uint8Array.of(0xb3, controller, value), number, number);
    const { logs } = history.channels[3]!.parameters;
    expect(logs.size).toBe(MOST_PARAMETERS);
    expect([...logs.values()].at(-1)).toMatchObject({ number: 1999, msb: { value: 1 } });
  });
});
