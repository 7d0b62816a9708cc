import { createSocket, type Socket } from 'node:dgram';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { fromBuffer } from 'osc-min';
import { readBatch, type TrafficRecord } from '@tawny-signal/core/live/batch';
import type { LineState } from '@tawny-signal/core/live/line-state';
import { positionOf, positionsOf, type Op, type PlacedShow } from '@tawny-signal/core/edits';
import type { LiveShow } from '@tawny-signal/core/show/live';
import type { Signal } from '@tawny-signal/core/signal';
import { encodeSignal } from '@tawny-signal/core/bytes';
import { newMapping } from '@tawny-signal/core/mapping/defaults';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { makeLine, type Line } from '@tawny-signal/core/show/line';
import { makeMomentSend } from '@tawny-signal/core/show/moment';
import { makeSend, type SendOf } from '@tawny-signal/core/sends';
import { randomPorts } from '../scripts/stand-in-ports.js';
import { until } from '../scripts/test-stage.js';
import { lanternPier } from '../server/demo/lantern-pier.js';
import { inPieces } from '@tawny-signal/core/link/pieces';
import type { FromEngine, OfferedPort, ToEngine } from '@tawny-signal/core/link/messages';
import { createIntakes } from './intake.js';
import type { LedgerEntry } from './ledger-pipe.js';
import type { KeptLive } from './kept-state.js';
import type { Outside } from './outside.js';
import { createSwitchboard, type Switchboard } from './switchboard.js';

let socket: Socket;
let received: string[];
/** The water screen has heard the fader by which it is found out whether it is reached. */
let reached: boolean;
let board: Switchboard;
let placed: PlacedShow;
let traffic: TrafficRecord[];
let states: Record<string, LineState>;
let closed: boolean;
/** The live state that was last handed to the keeper. */
let kept: KeptLive | null;
/** What the launcher knows to sound. */
const sounding = new Set<string>();
/** What the pads were told, as bytes in hexadecimal. */
let told: string[];
let live: LiveShow | null;
let answers: Extract<FromEngine, { t: 'why' }>[];
/** How often the engine has asked for the show. */
let wanted = 0;

/** What the water screen hears, as `address value`, read by a package that is not ours. */
function hear(bytes: Buffer): void {
  const packet = fromBuffer(bytes);
  if (packet.oscType === 'message' && packet.address === '/sky/hue') reached = true;
  else if (packet.oscType === 'message')
    received.push(`${packet.address} ${String((packet.args[0] as { value: number }).value)}`);
}

/** What is outside the switchboard, in the place of the web server, the files and the launcher. */
const outside: Outside = {
  tell(message) {
    if (message.t === 'lineStates') states = message.states;
    else if (message.t === 'live') ({ live } = message);
    else if (message.t === 'why') answers.push(message);
    else if (message.t === 'wantShow') wanted++;
  },
  batch(bytes) {
    traffic.push(...readBatch(bytes).traffic);
    board.take({ t: 'took' });
  },
  portBytes: (_carrier, _port, bytes) => told.push(Buffer.from(bytes).toString('hex')),
  isHeard: () => true,
  cid: '00112233445566778899aabbccddeeff',
  keeper: {
    rows: () => undefined,
    show: () => undefined,
    ops: () => undefined,
    live: (state) => (kept = state),
  },
  ledger: {
    put: ({ lineId, key }) => sounding.add(`${lineId} ${key}`),
    remove: (lineId, key) => sounding.delete(`${lineId} ${key}`),
    note: () => undefined,
  },
  // By a clock that stands still no turn is ever over: what is played is taken at once, however busy the machine is.
  intakes: createIntakes(() => 0),
};

const tell = (message: ToEngine): void => board.take(message);
const pads: OfferedPort = { kind: 'midi-inside', name: 'Pier pads', in: true, out: true };
const midi = (...bytes: number[]): void => board.portBytes(1, 0, Uint8Array.from(bytes));
/** The same that arrived at its port some time ago. */
const midiFrom = (ageMs: number, ...bytes: number[]): void =>
  board.portBytes(1, 0, Uint8Array.from(bytes), ageMs);
const MARK = { showId: 'the pier', rev: 1 };
let rev: number;
const edit = (ops: Op[]): void => tell({ t: 'ops', mark: { ...MARK, rev: ++rev }, ops });

beforeEach(async () => {
  const ports = await randomPorts();
  received = [];
  reached = false;
  traffic = [];
  states = {};
  closed = false;
  told = [];
  live = null;
  answers = [];
  socket = createSocket('udp4');
  socket.on('message', hear);
  await new Promise<void>((done) => socket.bind(ports.water, '127.0.0.1', done));
  const show = lanternPier(ports);
  placed = { show, position: positionsOf(show, ['lines', 'banks', 'mappings', 'routes']) };
  board = createSwitchboard(outside, 'a test');
  rev = MARK.rev;
  kept = null;
  sounding.clear();
  const before = { armed: true, standingBy: null, called: null, transport: null, finished: [], levels: {} };
  tell({ t: 'show', mark: MARK, placed, before });
  tell({ t: 'offer', carrier: 1, ports: [pads] });
  await until(
    () => states['water-screen']?.state === 'open' && states['pier-pads']?.state === 'open',
    'the lines are open',
  );
  // The socket is connected a moment after the line is opened.
  await until(() => {
    midi(0xb1, 22, 0);
    return reached;
  }, 'the water screen is reached');
});

afterEach(() => {
  if (!closed) board.close();
  socket.close();
});

const LEVEL = makeMomentSend({
  kind: 'levels',
  lineId: 'lantern-rig',
  levels: [{ slots: [95, 95], level: 77 }],
});
const hexOf = (signal: Signal): string => Buffer.from(encodeSignal(signal)).toString('hex');

const f32 = (value: number): string => String(Math.fround(value));

test('a large show is compiled while the one before it plays: arming comes through, and what is about the new one waits', async () => {
  const { show } = placed;
  const [first] = show.mappings;
  const more = Array.from({ length: 400 }, (_, at) => ({
    ...first!,
    id: `more-${at}`,
    on: at % 20 === 0,
  }));
  const quiet = { ...show.mappings[0]!, on: false };
  const large = { ...placed, show: { ...show, mappings: [quiet, ...show.mappings.slice(1), ...more] } };
  const before = { armed: true, standingBy: null, called: null, transport: null, finished: [], levels: {} };
  const showOf = (): string | undefined => board.joined().mark?.showId;
  const mark = { showId: 'a long pier', rev: 1 };
  const all = inPieces({ t: 'show', mark, placed: large, before });
  // A piece of a show that was never told to its end.
  tell(all[0]!);
  all.forEach(tell);
  tell({ t: 'ops', mark: { showId: 'a long pier', rev: 2 }, ops: [] });
  tell({ t: 'armed', armed: false });
  expect([showOf(), board.joined().armed]).toEqual([MARK.showId, false]);
  tell({ t: 'armed', armed: true });
  // The show from before is played meanwhile.
  midi(0x99, 36, 100);
  tell({ t: 'armed', armed: false });
  await until(() => showOf() === 'a long pier', 'it is played');
  // The edit that waited was taken, and nobody has armed a show that was made safe.
  await until(() => board.joined().mark?.rev === 2, 'the edit is taken');
  expect(board.joined().armed).toBe(false);
  await until(() => received.length === 1, 'it was played');
  tell({ t: 'armed', armed: true });
  midi(0x89, 36, 0, 0x99, 36, 100);
  // Every twentieth of the 400 hears it, and the one that was switched off does not.
  await until(() => received.length === 21, 'they are heard');
});

test('a show of which pieces are missing is not played, and is asked for again', async () => {
  const mark = { showId: 'a short pier', rev: 1 };
  const { show } = placed;
  const rest = { ...placed, show: { ...show, mappings: [] } };
  wanted = 0;
  tell({ t: 'show', mark, placed: rest, before: null, pieces: 4 });
  expect([wanted, board.joined().mark]).toEqual([1, MARK]);
  midi(0x99, 36, 100);
  await until(() => received.length === 1, 'the one before it plays on');
});

test('a show that a server tells again, since it could not know that it is compiled, is not begun again', async () => {
  const { show } = placed;
  const [first] = show.mappings;
  const more = Array.from({ length: 400 }, (_, at) => ({ ...first!, id: `more-${at}`, on: false }));
  const large = { ...placed, show: { ...show, mappings: [...show.mappings, ...more] } };
  const before = { armed: true, standingBy: null, called: null, transport: null, finished: [], levels: {} };
  const mark = { showId: 'a long pier', rev: 1 };
  tell({ t: 'show', mark, placed: large, before });
  tell({ t: 'order', ask: 1, act: { do: 'call', id: show.moments[0]!.id }, desk: '', press: null });
  tell({ t: 'show', mark, placed: large, before });
  await until(() => board.joined().mark?.showId === mark.showId, 'it is played');
  // What was called meanwhile is not taken back.
  expect(board.joined().order.called?.id).toBe(show.moments[0]!.id);
});

test('an edit of many rows is compiled while signals are played, and keeps what they switch meanwhile', async () => {
  const { show } = placed;
  const [first] = show.mappings;
  const ops = Array.from({ length: 300 }, (_, at): Op => {
    const row = { ...first!, id: `more-${at}`, name: `More ${at}`, on: at < 5 };
    return { op: 'put', table: 'mappings', row, position: 10_000 + at };
  });
  edit(ops);
  expect(board.joined().mark?.rev).toBe(MARK.rev);
  midi(0x99, 36, 100, 0x89, 36, 0);
  await until(() => board.joined().mark?.rev === rev, 'it is played');
  midi(0x99, 36, 100);
  // One from before, then that one and five of the new ones.
  await until(() => received.length === 7, 'they are heard');
});

test('a mapping that is added at the end is played at once, and so is one before the others', async () => {
  const { show, position } = placed;
  const [first] = show.mappings;
  const place = (id: string): number => position[`mappings ${id}`] ?? 0;
  const at = (id: string, where: number): Op =>
    ({ op: 'put', table: 'mappings', row: { ...first!, id, name: id }, position: where }) as Op;
  const last = Math.max(...show.mappings.map(({ id }) => place(id)));
  edit([at('at the end', last + 1), at('after it', last + 2)]);
  midi(0x99, 36, 100, 0x89, 36, 0);
  await until(() => received.length === 3, 'three are heard');
  edit([at('before all', -5)]);
  midi(0x99, 36, 100);
  await until(() => received.length === 7, 'four are heard');
});

test('a pad becomes an OSC message at the water screen, its force carried across', async () => {
  midi(0x99, 36, 100);
  await until(() => received.length === 1, 'it arrived');
  expect(received).toEqual([`/moment/storm/go ${f32(100 / 127)}`]);
});

test('what was heard and what it caused are noted together', async () => {
  midi(0x99, 36, 100);
  const out = await until(
    () => traffic.find((record) => record.direction === 'out' && record.bytes.length === 28),
    'it was noted',
  );
  const cause = traffic.find((record) => record.seq === out.cause)!;
  expect([cause.direction, [...cause.bytes]]).toEqual(['in', [0x99, 36, 100]]);
});

test('what is sent later is noted as later, and with the message that it is sent for', async () => {
  const storm = placed.show.mappings.find(({ id }) => id === 'storm-go')!;
  const row = { ...storm, sends: [{ ...(storm.sends[0] as SendOf<'osc'>), delayMs: 30 }] };
  edit([{ op: 'put', table: 'mappings', row, position: positionOf(placed, 'mappings', 'storm-go') }]);
  midi(0x99, 36, 100);
  midi(0x99, 45, 100);
  const out = await until(
    () => traffic.find((record) => record.direction === 'out' && record.bytes.length === 28),
    'it was noted',
  );
  const cause = traffic.find((record) => record.seq === out.cause)!;
  expect([out.later, cause.direction, [...cause.bytes]]).toEqual([true, 'in', [0x99, 36, 100]]);
});

test('a mapping that is changed sends the new message from then on', async () => {
  const storm = placed.show.mappings.find(({ id }) => id === 'storm-go')!;
  const row = { ...storm, sends: [{ ...(storm.sends[0] as SendOf<'osc'>), address: '/moment/fog/go' }] };
  const op: Op = { op: 'put', table: 'mappings', row, position: positionOf(placed, 'mappings', 'storm-go') };
  edit([op]);
  midi(0x99, 36, 127);
  await until(() => received.length === 1, 'it arrived');
  expect(received).toEqual(['/moment/fog/go 1']);
});

describe('a line with a delay', () => {
  const delay = (delayMs: number): void => {
    const row = { ...placed.show.lines.find(({ id }) => id === 'water-screen')!, delayMs };
    edit([{ op: 'put', table: 'lines', row, position: positionOf(placed, 'lines', 'water-screen') }]);
  };

  test('sends that much later, in order, and is not opened anew for it', async () => {
    delay(60);
    midi(0x99, 36, 127);
    midi(0x99, 37, 127);
    expect(received).toEqual([]);
    await until(() => received.length === 2, 'both arrived');
    expect(received).toEqual(['/moment/storm/go 1', '/tide/swell 1']);
  });

  test('forgets what waits on Panic, and releases at once', async () => {
    midi(0x99, 37, 127);
    await until(() => received.includes('/tide/swell 1'), 'the swell is held');
    delay(10_000);
    midi(0x99, 36, 127);
    tell({ t: 'panic', desk: '' });
    await until(() => received.includes('/tide/swell 0'), 'it was released at once');
    expect(received).not.toContain('/moment/storm/go 1');
  });
});

describe('nothing hangs', () => {
  beforeEach(async () => {
    midi(0x99, 37, 127);
    await until(() => received.includes('/tide/swell 1'), 'the swell is held');
  });
  const released = (): Promise<unknown> =>
    until(() => received.includes('/tide/swell 0'), 'the swell was released');

  test('on Panic', async () => {
    tell({ t: 'panic', desk: '' });
    await released();
  });
  test('when the show is made safe, and nothing leaves after that', async () => {
    tell({ t: 'armed', armed: false });
    await released();
    received.length = 0;
    midi(0x99, 36, 127);
    await until(() => traffic.some((record) => record.direction === 'heldBack'), 'it was held back');
    expect(received).toEqual([]);
  });
  test('when the port that held it is unplugged, and the line says so', async () => {
    tell({ t: 'offer', carrier: 1, ports: [] });
    await released();
    await until(() => states['pier-pads']?.state === 'waiting', 'the line waits');
  });
  test('when whoever carried the port is gone', async () => {
    tell({ t: 'leave', carrier: 1 });
    await released();
  });
  test('when the line is removed', async () => {
    edit([{ op: 'remove', table: 'lines', id: 'pier-pads' }]);
    await released();
  });
  test('when the line that it was sent on is removed: the release still leaves by it', async () => {
    edit([{ op: 'remove', table: 'lines', id: 'water-screen' }]);
    await released();
  });
  test('when more came in than could be taken, and the release was not among what was', async () => {
    let full = false;
    const intakes = {
      open() {
        const intake = createIntakes(() => 0).open();
        const take: typeof intake.take = (work, bytes) => !full && intake.take(work, bytes);
        return { ...intake, take };
      },
    };
    const busy = createSwitchboard({ ...outside, intakes }, 'a busy one');
    try {
      busy.begin({ mark: MARK, placed }, null, []);
      busy.take({ t: 'offer', carrier: 7, ports: [pads] });
      received.length = 0;
      await until(() => {
        busy.portBytes(7, 0, Uint8Array.of(0x99, 37, 100));
        return received.includes(`/tide/swell ${f32(100 / 127)}`);
      }, 'the swell is held');
      full = true;
      busy.portBytes(7, 0, Uint8Array.of(0x89, 37, 0));
      await released();
    } finally {
      await busy.close();
    }
  });
  test('when the engine closes', async () => {
    board.close();
    closed = true;
    await released();
  });
});

describe('ports that are carried', () => {
  const keys: OfferedPort = { kind: 'midi-browser', name: 'Tide keys', in: true, out: true };
  beforeEach(() => {
    const row = makeLine({
      id: 'keys',
      kind: 'midi-browser',
      name: 'Tide keys',
      port: 'Tide keys',
    });
    const storm = placed.show.mappings.find(({ id }) => id === 'storm-go')!;
    const heard = { ...storm, id: 'by-keys', hear: { ...storm.hear, lineId: 'keys' } };
    edit([
      { op: 'put', table: 'lines', row, position: 99 },
      { op: 'put', table: 'mappings', row: heard, position: 99 },
    ]);
  });
  const trouble = (): string => states['keys']?.trouble ?? '';

  test('are waited for, picked up late, and missed when unplugged', async () => {
    await until(
      () => trouble().includes('No open browser tab has a MIDI port called “Tide keys”'),
      'it waits',
    );
    tell({ t: 'offer', carrier: 2, ports: [keys] });
    await until(() => states['keys']?.state === 'open', 'it is picked up');
    tell({ t: 'offer', carrier: 2, ports: [] });
    await until(() => trouble().includes('“Tide keys” was unplugged'), 'it is missed');
    tell({ t: 'offer', carrier: 2, ports: [keys] });
    await until(() => states['keys']?.state === 'open', 'it is picked up again');
    tell({ t: 'leave', carrier: 2 });
    await until(() => trouble().includes('The browser tab with “Tide keys” was closed'), 'the tab is missed');
  });

  test('that another program holds are said so, and taken when they are free', async () => {
    tell({ t: 'offer', carrier: 2, ports: [{ ...keys, held: true }] });
    await until(() => trouble().includes('Another program uses “Tide keys”'), 'it is said');
    tell({ t: 'offer', carrier: 2, ports: [keys] });
    await until(() => states['keys']?.state === 'open', 'it is taken');
  });

  test('that two tabs have are heard once, and by the other tab when the first is closed', async () => {
    tell({ t: 'offer', carrier: 2, ports: [keys] });
    tell({ t: 'offer', carrier: 3, ports: [pads, keys] });
    const say = (carrier: number, port: number): void =>
      board.portBytes(carrier, port, Uint8Array.of(0x99, 36, 127));
    say(2, 0);
    say(3, 1);
    // What is played after it arrives after it: whatever the second tab said has arrived by then.
    midi(0x99, 36, 64);
    const softer = `/moment/storm/go ${f32(64 / 127)}`;
    await until(() => received.includes(softer), 'what was played last arrived');
    expect(received).toEqual(['/moment/storm/go 1', softer]);
    tell({ t: 'leave', carrier: 2 });
    say(3, 1);
    await until(() => received.length === 3, 'it arrived by the other tab');
    expect(received).toEqual(['/moment/storm/go 1', softer, '/moment/storm/go 1']);
  });

  test('of a stand-in are heard from every tab that plays it', async () => {
    tell({ t: 'offer', carrier: 4, ports: [pads] });
    board.portBytes(4, 0, Uint8Array.of(0x99, 36, 127));
    midi(0x99, 36, 127);
    await until(() => received.length === 2, 'both arrived');
  });

  test('that send bytes which are no MIDI have them counted, with the bytes', async () => {
    midi(0xf7);
    const bad = await until(() => traffic.find((record) => record.direction === 'bad'), 'it is noted');
    expect([bad.reason, [...bad.bytes]]).toEqual([
      'Not MIDI: an end of system-exclusive without its beginning.',
      [0xf7],
    ]);
  });
});

describe('the lamps of a controller', () => {
  /** Storm glass is on, so the pad that switches it is lit; the lamp of pad 3 is dark. */
  const AT_FIRST = ['992600', '99277f'];

  test('are told what they show when it comes, and whoever comes later is told too', async () => {
    await until(() => told.length >= 2, 'they are told');
    expect(told.slice(0, 2)).toEqual(AT_FIRST);
    told = [];
    tell({ t: 'offer', carrier: 2, ports: [pads] });
    await until(() => told.length >= 4, 'both are told');
    expect(new Set(told)).toEqual(new Set(AT_FIRST));
  });

  test('follow what signals make of the show, which is said to whoever keeps it', async () => {
    await until(() => told.length >= 2, 'they are told');
    told = [];
    midi(0x99, 39, 100);
    expect(told).toEqual(['992700']);
    await until(() => live !== null, 'it is said');
    expect(live!.banksOn).toEqual(['house']);
    // An edit of something else does not bring the bank back.
    const [line] = placed.show.lines;
    edit([{ op: 'put', table: 'lines', row: { ...line!, name: 'Deck pads' }, position: 0 }]);
    midi(0x99, 36, 100);
    expect(received).toEqual([]);
  });
});

test('several messages of one press on one line stand in the traffic each with its own bytes', async () => {
  const storm = placed.show.mappings.find(({ id }) => id === 'storm-go')!;
  const row = {
    ...storm,
    sends: ['/one', '/two', '/three'].map((address) => ({ ...(storm.sends[0] as SendOf<'osc'>), address })),
  };
  edit([{ op: 'put', table: 'mappings', row, position: positionOf(placed, 'mappings', 'storm-go') }]);
  const heardSo = (): string[] =>
    traffic
      .filter(({ direction, bytes }) => direction === 'out' && bytes[0] === 0x2f)
      .map(({ bytes }) => fromBuffer(Buffer.from(bytes)) as unknown as { address: string })
      .map(({ address }) => address);
  midi(0x99, 36, 100);
  await until(() => heardSo().includes('/three'), 'they are noted');
  expect(heardSo().slice(-3)).toEqual(['/one', '/two', '/three']);
});

test('what the engine made of a message can be asked for by its number, and of one that never was is not known', async () => {
  midi(0x99, 42, 100);
  const heardPad = (): TrafficRecord | undefined =>
    traffic.find(({ direction, bytes }) => direction === 'in' && bytes[1] === 42);
  await until(heardPad, 'it is noted');
  tell({ t: 'why', ask: 1, seq: heardPad()!.seq });
  tell({ t: 'why', ask: 2, seq: 4_000_000 });
  expect(answers).toEqual([
    {
      t: 'why',
      ask: 1,
      steps: [{ mappingId: 'scene-wide', outcome: 'fired', heard: 100, shaped: 100 / 127 }],
    },
    { t: 'why', ask: 2, steps: null },
  ]);
});

describe('what sounds', () => {
  /** A pad holds a bell, a level and a key. */
  const bell: Op = {
    op: 'put',
    table: 'mappings',
    position: 100,
    row: {
      ...newMapping(
        'bell',
        { message: 'held', lineId: 'pier-pads', channels: [9, 9], numbers: [99, 99], values: 'any' },
        null,
      ),
      sends: [
        makeSend({ kind: 'note', lineId: 'bell-player', channel: 2, number: 72 }),
        makeSend({ kind: 'slot', lineId: 'lantern-rig', slot: 90 }),
        makeSend({ kind: 'key', lineId: 'quay-stream', code: 'KeyG' }),
      ],
    },
  };
  const bells: OfferedPort = { kind: 'midi-inside', name: 'Bell player', in: true, out: true };
  const stream: OfferedPort = { kind: 'keys-inside', name: 'Quay stream', in: true, out: true };

  const HELD = ['bell-player note 2 72', 'lantern-rig hold bell 0', 'quay-stream key KeyG'];

  async function press(): Promise<void> {
    edit([bell]);
    tell({ t: 'offer', carrier: 5, ports: [bells, stream] });
    await until(() => states['bell-player']?.state === 'open', 'the bells are there');
    midi(0x99, 99, 100);
    expect([...sounding].sort()).toEqual(HELD);
  }

  test('is known outside the engine as long as it sounds, with keys and levels that are held', async () => {
    await press();
    midi(0x89, 99, 0);
    expect([...sounding]).toEqual([]);
  });

  test('and could not be released stays known, and is released when its line is there again', async () => {
    await press();
    tell({ t: 'offer', carrier: 5, ports: [] });
    midi(0x89, 99, 0);
    expect([...sounding].sort()).toEqual([HELD[0], HELD[2]]);
    told = [];
    tell({ t: 'offer', carrier: 5, ports: [bells, stream] });
    await until(() => sounding.size === 0, 'it is released');
    expect(told).toContain('824800');
  });

  test('when an engine fails is released first by the next one, then the levels are there', async () => {
    await press();
    tell({ t: 'order', ask: 1, act: { do: 'trySend', send: LEVEL }, desk: '', press: null });
    const state = await until(
      () => (kept?.levels['lantern-rig'] ? kept : null),
      'the levels were handed to be kept',
    );
    const owed: LedgerEntry[] = [
      ['bell-player', 'note 2 72', ['824800']],
      ['quay-stream', 'key KeyG', [hexOf({ kind: 'key', code: 'KeyG', down: false })]],
      ['gone', 'note 0 1', ['800100']],
      // Slot 90 goes to 0: a level that the pad holds up.
      ['lantern-rig', 'hold bell 0', ['005a00']],
    ];
    const before = Buffer.from(state.levels['lantern-rig']!, 'base64');
    expect([before[89], before[94]]).toEqual([1, 77]);
    // The old one goes on as a process would that nobody can reach.
    tell({ t: 'leave', carrier: 5 });
    const next = createSwitchboard(outside, 'the next one');
    told = [];
    try {
      next.begin({ mark: MARK, placed }, state, owed);
      next.take({ t: 'offer', carrier: 5, ports: [bells, stream] });
      await until(() => told.includes('824800'), 'the bell is released');
      const hello = next.joined();
      const levels = Buffer.from(hello.levels['lantern-rig'] ?? '', 'base64');
      // What was set stays; what was held up is down, since nobody will let it go any more.
      expect([levels[89], levels[94]]).toEqual([0, 77]);
    } finally {
      next.close();
    }
  });

  test('the next engine knows what was called last, and its beat goes on', async () => {
    const { moments } = placed.show;
    tell({ t: 'tap' });
    tell({ t: 'order', ask: 1, act: { do: 'call', id: moments[0]!.id }, desk: '', press: null });
    const { order, transport } = board.joined();
    const state = await until(() => (kept?.called ? kept : null), 'it was handed to be kept');
    const next = createSwitchboard(outside, 'the next one');
    try {
      next.begin({ mark: MARK, placed }, state, []);
      const hello = next.joined();
      expect(hello.order.called?.id).toBe(moments[0]!.id);
      expect(hello.order.called?.at).toBeCloseTo(order.called!.at, 3);
      expect(hello.transport.beatAt).toBeCloseTo(transport.beatAt, 3);
      expect(hello.transport.bpm).toBe(transport.bpm);
    } finally {
      await next.close();
    }
  });

  test('on a line that is younger than the show that was kept is released once the server tells of it', async () => {
    await press();
    const owed: LedgerEntry[] = [
      ['bell-player', 'note 2 72', ['824800']],
      ['gone', 'note 0 1', ['800100']],
    ];
    sounding.add('gone note 0 1');
    tell({ t: 'leave', carrier: 5 });
    const lines = placed.show.lines.filter(({ id }) => id !== 'bell-player');
    const older = { ...placed, show: { ...placed.show, lines } };
    const next = createSwitchboard(outside, 'the next one');
    told = [];
    try {
      next.begin({ mark: MARK, placed: older }, null, owed);
      next.take({ t: 'offer', carrier: 5, ports: [bells, stream] });
      await until(() => states['pier-pads'], 'its lines are there');
      expect([told, sounding.has('bell-player note 2 72')]).toEqual([[], true]);
      next.take({ t: 'show', mark: { ...MARK, rev: 2 }, placed, before: null });
      await until(() => told.includes('824800'), 'the bell is released');
      await until(() => !sounding.has('bell-player note 2 72'), 'it is known');
      // The server's show has no such line either: nobody can release it.
      expect(sounding.has('gone note 0 1')).toBe(false);
    } finally {
      next.close();
    }
  });

  test('and could sound is released by Panic, known or not, without any light being changed', async () => {
    edit([bell]);
    tell({ t: 'offer', carrier: 5, ports: [bells, stream] });
    await until(() => states['bell-player']?.state === 'open', 'the bells are there');
    tell({ t: 'order', ask: 1, act: { do: 'trySend', send: LEVEL }, desk: '', press: null });
    told = [];
    tell({ t: 'panic', desk: '' });
    // Channel 3: note 72 up, the pedal up, all notes off (MIDI 1.0, Channel Mode Messages).
    for (const bytes of ['824800', 'b24000', 'b27b00']) expect(told).toContain(bytes);
    expect(Buffer.from(board.joined().levels['lantern-rig'] ?? '', 'base64')[94] ?? 77).toBe(77);
  });
});

test('a tap from a browser counts from when the browser heard it', () => {
  const storm = placed.show.mappings.find(({ id }) => id === 'storm-go')!;
  const row: Mapping = { ...storm, sends: [makeSend({ kind: 'tap', lineId: null })] };
  edit([{ op: 'put', table: 'mappings', row, position: positionOf(placed, 'mappings', row.id) }]);
  // By the clock of the turns, which stands still here, a quarter of a second lies between them.
  midiFrom(250, 0x99, 36, 100);
  midiFrom(0, 0x99, 36, 100);
  expect(board.joined().transport.bpm).toBe(240);
});

describe('the delay of a line', () => {
  const delayed = (row: Line, muted = false): Op => ({
    op: 'put',
    table: 'lines',
    row: { ...row, delayMs: 50, muted },
    position: positionOf(placed, 'lines', row.id),
  });
  const water = (): Line => placed.show.lines.find(({ id }) => id === 'water-screen')!;

  test('lets nothing leave a line that was muted meanwhile', async () => {
    edit([delayed(water())]);
    midi(0x99, 36, 100);
    edit([delayed(water(), true)]);
    const held = await until(() => traffic.find(({ direction }) => direction === 'heldBack'), 'it is noted');
    expect(held.length).toBe(28);
    edit([delayed(water())]);
    midi(0x99, 36, 64);
    await until(() => received.length > 0, 'what came after it arrives');
    expect(received).toEqual([`/moment/storm/go ${f32(64 / 127)}`]);
  });

  test('holds so much and no more; what it does not hold is said not to have left', async () => {
    edit([delayed(water())]);
    for (let i = 0; i < 20_010; i++) tell({ t: 'try', mappingId: 'storm-go', pressed: true });
    const said = await until(() => states['water-screen']?.lastBad, 'its line says so');
    expect(said.reason).toContain('This one was dropped.');
    board.close();
    closed = true;
  });
});
