/**
 * The page announced on the network: the bytes of DNS-SD (RFC 6763) over multicast DNS (RFC 6762), as they would go to the multicast address. A relay on
 * loopback stands for the network; nothing is sent to one.
 */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { PeopleSeen } from '@tawny-signal/core/people/people';
import { openNamesRelay, type NamesRelay } from '../../scripts/names-relay.js';
import { openTestStage, until, type TestStage } from '../../scripts/test-stage.js';
import { createAnnouncer } from './announcer.js';

let relay: NamesRelay;
let stage: TestStage;
beforeAll(async () => {
  relay = await openNamesRelay();
  stage = await openTestStage({ demo: false, env: { TAWNY_NAMES_RELAY: String(relay.port) } });
});
afterAll(async () => {
  await stage.stop();
  relay.close();
});

const open = async (listen: string[], announce: boolean): Promise<void> => {
  const response = await fetch(`${stage.address}api/people/opening`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ listen, hereToo: false, announce }),
  });
  expect(response.status).toBe(200);
};
const announced = async (): Promise<PeopleSeen['announced']> =>
  ((await (await fetch(`${stage.address}api/people`)).json()) as PeopleSeen).announced;

/** A name as it lies in a packet (RFC 1035, section 3.1). */
const labels = (...names: string[]): Buffer =>
  Buffer.concat([...names.map((name) => Buffer.from([name.length, ...Buffer.from(name)])), Buffer.of(0)]);
/** A record of the address 127.0.0.2: type A, class IN with or without the bit that flushes caches (RFC 6762, section 10.2), its life, four bytes. */
const isAddress = (packet: Buffer): boolean => {
  const at = packet.indexOf(Buffer.of(0, 4, 127, 0, 0, 2));
  return at > 8 && packet.readUInt16BE(at - 8) === 1 && (packet.readUInt16BE(at - 6) & 0x7fff) === 1;
};
/** A response with authority (RFC 6762, sections 18.2 and 18.4) that has the service. */
const responses = (type: string): Buffer[] =>
  relay.packets.filter(
    (packet) =>
      (packet.readUInt16BE(2) & 0x8400) === 0x8400 && packet.includes(labels(type, '_tcp', 'local')),
  );

test('nothing is said until somebody switches it on, and where the page is open to nobody', async () => {
  await open(['127.0.0.2'], false);
  expect(await announced()).toBeNull();
  await open([], true);
  expect(await announced()).toBeNull();
  expect(relay.packets).toEqual([]);
});

test('it is announced with its port and the address that it is open at; and says goodbye', async () => {
  await open(['127.0.0.2'], true);
  await until(() => responses('_http').some(isAddress), 'it is announced');
  expect(await announced()).toMatchObject({
    name: expect.stringMatching(/^Tawny Signal on /),
    trouble: null,
  });
  // An SRV record ends with the port and the host (RFC 2782): priority 0, weight 0.
  const port = Buffer.alloc(2);
  port.writeUInt16BE(stage.port);
  expect(
    responses('_http').some((packet) => packet.includes(Buffer.concat([Buffer.of(0, 0, 0, 0), port]))),
  ).toBe(true);
  const before = relay.packets.length;
  await open(['127.0.0.2'], false);
  // A life of nothing says that it is gone (RFC 6762, section 10.1).
  const isGoodbye = (packet: Buffer): boolean => {
    const name = packet.indexOf(labels('_http', '_tcp', 'local'));
    return name >= 0 && packet.readUInt32BE(name + labels('_http', '_tcp', 'local').length + 4) === 0;
  };
  await until(() => relay.packets.slice(before).some(isGoodbye), 'it says goodbye');
  expect(await announced()).toBeNull();
});

test('what ends the thread is said and stays said, and the end of the server does not wait for it', async () => {
  const announcer = createAnnouncer(
    () => [{ url: 'http://192.0.2.7:4630/', here: false }],
    new URL(`data:text/javascript,throw new Error('the socket broke')`),
  );
  announcer.set(true);
  await until(() => announcer.announced()?.trouble?.includes('the socket broke'), 'it is said');
  announcer.set(true);
  expect(announcer.announced()?.trouble).toContain('the socket broke');
  await announcer.close();
});
