// Checked by packages that are not ours (sacn, artnet-protocol), over real sockets on loopback.
import { createSocket, type Socket } from 'node:dgram';
import { afterEach, describe, expect, test } from '@jest/globals';
import { ArtDmx, ArtPoll, ArtPollReply, decode as decodeArtNet } from 'artnet-protocol/dist/protocol.js';
import { Packet } from 'sacn';
import { makeLine } from '@tawny-signal/core/show/line';
import type { Signal } from '@tawny-signal/core/signal';
import { tryUdpPort } from '../scripts/ports.js';
import { until } from '../scripts/test-stage.js';
import { createDmxHubs } from './drivers/dmx-hub.js';
import { openDmx, targetOf, type DmxLine } from './drivers/dmx.js';
import type { LineDriver } from './drivers/driver.js';
import { recorded, type Recorded } from './recorded.test-helper.js';

/** By which those who hear sACN know us. */
const CID = '00112233445566778899aabbccddeeff';

const ending: (() => void)[] = [];
afterEach(() => {
  for (const end of ending.splice(0).reverse()) end();
});
const free = async (): Promise<number> => (await tryUdpPort(0))!;

const sacnLine = (given: object): DmxLine =>
  makeLine({
    id: 'rig',
    kind: 'sacn',
    name: 'Lantern rig',
    universe: 7,
    host: null,
    port: 5568,
    listenPort: null,
    ...given,
  }) as DmxLine;
const artnetLine = (given: object): DmxLine =>
  makeLine({
    id: 'deck',
    kind: 'artnet',
    name: 'Deck desk',
    universe: 0,
    host: null,
    port: 6454,
    listenPort: null,
    ...given,
  }) as DmxLine;

function open(line: DmxLine, hubs = createDmxHubs()): Recorded & { driver: LineDriver } {
  const telling = recorded();
  const driver = openDmx(line, telling.listener, hubs, CID);
  ending.push(() => driver.close());
  return { driver, ...telling };
}

async function hearAt(port: number): Promise<{ socket: Socket; packets: Buffer[] }> {
  const socket = createSocket('udp4');
  const packets: Buffer[] = [];
  socket.on('message', (bytes) => packets.push(bytes));
  await new Promise<void>((done) => socket.bind(port, '127.0.0.1', done));
  ending.push(() => socket.close());
  return { socket, packets };
}

const slot = (number: number, level: number): Signal => ({ kind: 'slot', slot: number, level });
const slots = (heard: Signal[]): string[] =>
  heard.map((signal) => (signal.kind === 'slot' ? `${signal.slot}=${signal.level}` : signal.kind));

describe('sACN out', () => {
  /** Data packets; others, such as what asks whether anybody is there, have another vector (E1.31, 5.4). */
  const data = (packets: Buffer[]): Packet[] =>
    packets.filter((bytes) => bytes.readUInt32BE(18) === 4).map((bytes) => new Packet(bytes));

  test('arrives with its universe, name, priority and levels, and says goodbye at the end', async () => {
    const port = await free();
    const { packets } = await hearAt(port);
    const { driver } = open(sacnLine({ host: '127.0.0.1', port, priority: 120, sourceName: 'Pier' }));
    await until(() => {
      driver.send(slot(101, 200));
      return data(packets).length > 0;
    }, 'a frame arrived');
    const first = data(packets)[0]!;
    expect([first.universe, first.sourceName.replace(/\0/g, ''), first.priority]).toEqual([7, 'Pier', 120]);
    expect(first.payloadAsBuffer![100]).toBe(200);
    driver.close();
    await until(() => data(packets).filter(({ options }) => options & 0x40).length === 3, 'three goodbyes');
    const sequences = data(packets).map(({ sequence }) => sequence);
    expect(sequences).toEqual(sequences.map((_, at) => (sequences[0]! + at) % 256));
  });

  test('to everyone goes to the universe’s multicast address, and only if that was chosen', () => {
    expect(targetOf(sacnLine({ everyone: true }), CID)).toMatchObject({
      host: '239.255.0.7',
      everyone: true,
    });
    expect(targetOf(sacnLine({ host: '10.0.0.9' }), CID)).toMatchObject({ host: '10.0.0.9' });
    expect(targetOf(sacnLine({}), CID)).toBeNull();
  });

  test('to where nothing listens says so, with the next try', async () => {
    const { state } = open(sacnLine({ host: '127.0.0.1', port: await free() }));
    await until(() => state().state === 'trouble', 'it says so');
    expect(state().trouble).toMatch(/^Nothing is listening at 127.0.0.1:/);
    expect(state().nextTryAt).toBeGreaterThan(Date.now() - 1000);
  });
});

describe('sACN in', () => {
  let sender: Socket;
  function say(
    port: number,
    given: {
      payload: Record<number, number>;
      sequence: number;
      priority?: number;
      cid?: string;
      universe?: number;
    },
  ): Promise<void> {
    const { cid = 'a'.repeat(16), universe = 7, ...rest } = given;
    const packet = new Packet({
      sourceName: `desk ${cid[0]}`,
      priority: 100,
      ...rest,
      universe,
      cid: Buffer.from(cid),
      useRawDmxValues: true,
    });
    return new Promise((done) => sender.send(packet.buffer, port, '127.0.0.1', () => done()));
  }
  async function openIn(): Promise<Recorded & { port: number }> {
    sender = createSocket('udp4');
    ending.push(() => sender.close());
    const port = await free();
    const opened = open(sacnLine({ listenPort: port }));
    return { ...opened, port };
  }
  /** Says it until the socket, which is bound a moment later, has heard it. */
  const first = (port: number, heard: Signal[]): Promise<unknown> =>
    until(async () => {
      await say(port, { payload: { 512: 1 }, sequence: 0 });
      return heard.length > 0;
    }, 'the line hears');

  test('is one signal for each slot that changed', async () => {
    const { heard, port } = await openIn();
    await first(port, heard);
    heard.length = 0;
    await say(port, { payload: { 1: 10, 5: 255, 512: 1 }, sequence: 1 });
    await until(() => heard.length === 2, 'two slots changed');
    await say(port, { payload: { 1: 10, 5: 128, 512: 1 }, sequence: 2 });
    await until(() => heard.length === 3, 'one more');
    expect(slots(heard)).toEqual(['1=10', '5=255', '5=128']);
  });

  test('of several senders is the highest priority, and the sources are listed', async () => {
    const { heard, state, port } = await openIn();
    await first(port, heard);
    heard.length = 0;
    await say(port, { payload: { 1: 50 }, sequence: 1, cid: 'b'.repeat(16), priority: 150 });
    await until(() => slots(heard).includes('1=50'), 'the other desk is heard');
    await say(port, { payload: { 1: 99 }, sequence: 1 });
    await until(() => state().sources?.length === 2, 'both are listed');
    expect(state().sources).toEqual([
      { name: 'desk b', address: '127.0.0.1', priority: 150, heard: true },
      { name: 'desk a', address: '127.0.0.1', priority: 100, heard: false },
    ]);
    expect(slots(heard)).not.toContain('1=99');
  });

  test('with an old sequence, and of another universe, is passed over', async () => {
    const { heard, port } = await openIn();
    await first(port, heard);
    await say(port, { payload: { 1: 1 }, sequence: 20 });
    await until(() => slots(heard).includes('1=1'), 'the first came');
    await say(port, { payload: { 1: 2 }, sequence: 15 });
    await say(port, { payload: { 1: 3 }, sequence: 21, universe: 8 });
    await say(port, { payload: { 1: 4 }, sequence: 21 });
    await until(() => slots(heard).includes('1=4'), 'the last came');
    expect(slots(heard).filter((words) => /^1=[23]$/.test(words))).toEqual([]);
  });

  test('two lines listen on one port, each to its own universe', async () => {
    sender = createSocket('udp4');
    ending.push(() => sender.close());
    const port = await free();
    const hubs = createDmxHubs();
    const seven = open(sacnLine({ listenPort: port }), hubs);
    const eight = open(sacnLine({ id: 'eight', universe: 8, listenPort: port }), hubs);
    await first(port, seven.heard);
    await say(port, { payload: { 3: 33 }, sequence: 0, universe: 8 });
    await until(() => slots(eight.heard).includes('3=33'), 'universe 8 is heard');
    expect(slots(seven.heard)).not.toContain('3=33');
    expect([seven.state().state, eight.state().state]).toEqual(['open', 'open']);
  });

  test('that makes no sense is counted with a reason, and the line goes on', async () => {
    const { heard, bad, port } = await openIn();
    await first(port, heard);
    await new Promise<void>((done) =>
      sender.send(Buffer.from('no sACN at all, but long enough'), port, '127.0.0.1', () => done()),
    );
    await until(() => bad.length === 1, 'it is counted');
    expect(bad[0]).toMatch(/^Not sACN: /);
  });

  test('from whom it may not hear is refused, with what to do', async () => {
    sender = createSocket('udp4');
    ending.push(() => sender.close());
    const port = await free();
    const { heard, bad } = open(sacnLine({ listenPort: port, hearFrom: ['10.0.0.0/8'] }));
    await until(async () => {
      await say(port, { payload: { 1: 1 }, sequence: 1 });
      return bad.length > 0;
    }, 'it is refused');
    expect([heard.length, bad[0]]).toEqual([
      0,
      'From 127.0.0.1, which is not allowed to send here. To allow them, add them under “Accept from”.',
    ]);
  });
});

describe('Art-Net', () => {
  test('goes out with its universe, sequence and levels', async () => {
    const port = await free();
    const { packets } = await hearAt(port);
    const { driver } = open(artnetLine({ universe: 0x123, host: '127.0.0.1', port }));
    const levels = (): ArtDmx[] =>
      packets.map((bytes) => decodeArtNet(bytes)).filter((packet) => packet instanceof ArtDmx);
    await until(() => {
      driver.send(slot(2, 77));
      return levels().length > 0;
    }, 'a frame arrived');
    const [first] = levels();
    expect([first!.universe, first!.data.slice(0, 3)]).toEqual([0x123, [0, 77, 0]]);
    expect(first!.sequence).toBeGreaterThan(0);
  });

  test('is heard slot by slot, and a poll is answered with the universes that are heard', async () => {
    const port = await free();
    const { heard } = open(artnetLine({ universe: 0x21, listenPort: port }));
    const { socket, packets } = await hearAt(await free());
    await until(() => {
      socket.send(new ArtDmx(0, 0, 0x21, [5, 0, 9, 0]).encode(), port, '127.0.0.1');
      return heard.length > 0;
    }, 'the line hears');
    expect(slots(heard)).toEqual(['1=5', '3=9']);
    socket.send(new ArtPoll(14, false, false, false, true, 0).encode(), port, '127.0.0.1');
    await until(() => packets.length > 0, 'the poll is answered');
    const reply = decodeArtNet(packets[0]!) as ArtPollReply;
    expect(reply).toBeInstanceOf(ArtPollReply);
    expect([reply.netSwitch, reply.subSwitch, reply.nameShort]).toEqual([0, 2, 'Tawny Signal']);
  });

  test('carries timecode, whatever its universe, and tells what makes no sense', async () => {
    const port = await free();
    const hubs = createDmxHubs();
    const first = open(artnetLine({ universe: 3, listenPort: port }), hubs);
    const second = open(artnetLine({ universe: 4, listenPort: port }), hubs);
    const { driver } = open(artnetLine({ host: '127.0.0.1', port }));
    const frame: Signal = {
      kind: 'timecode',
      hours: 1,
      minutes: 2,
      seconds: 3,
      frames: 4,
      code: 1,
      speed: 1,
    };
    await until(() => {
      driver.send(frame);
      return first.heard.length > 0 && second.heard.length > 0;
    }, 'both lines hear it');
    expect(first.heard[0]).toEqual(frame);
    const { socket } = await hearAt(await free());
    // Art-Net 4, ArtTimeCode (from memory): frames, seconds, minutes, hours, type.
    const bad = Buffer.from(
      [...'Art-Net\0'].map((letter) => letter.charCodeAt(0)).concat(0, 0x97, 0, 14, 0, 0),
    );
    socket.send(Buffer.concat([bad, Buffer.of(25, 0, 0, 1, 1)]), port, '127.0.0.1');
    await until(() => first.bad.length > 0, 'it is told');
    expect(first.bad[0]).toBe('Not Art-Net: a timecode that does not exist: 1:0:0:25.');
  });

  test('a port in use is said, and taken when it is free', async () => {
    const port = await free();
    const other = createSocket('udp4');
    await new Promise<void>((done) => other.bind({ port, address: '127.0.0.1', exclusive: true }, done));
    const { state } = open(artnetLine({ listenPort: port }));
    await until(() => state().state === 'trouble', 'it says so');
    expect(state().trouble).toContain(`Port ${port} is in use`);
    other.close();
    await until(() => state().state === 'open', 'it is taken');
  });
});
