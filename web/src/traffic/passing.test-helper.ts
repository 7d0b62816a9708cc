/** Made-up traffic for the tests. */
import { encodeOsc } from '@tawny-signal/core/osc/packet';
import { makeLine } from '@tawny-signal/core/show/line';
import { emptyShow, type Show } from '@tawny-signal/core/show';
import type { Passing } from '../live/traffic-log';

/** @param waterName what the OSC line is called */
export const madeUpShow = (waterName = 'Water screen'): Show => ({
  ...emptyShow('The Lantern Pier'),
  lines: [
    makeLine({ id: 'pads', kind: 'midi-inside', name: 'Pier pads', port: 'Pier pads' }),
    makeLine({
      id: 'water',
      kind: 'osc-udp',
      name: waterName,
      host: '127.0.0.1',
      port: 9000,
      listenPort: null,
    }),
  ],
});

/** A record: pad 1 pressed at force 97, but for what is given. */
export function passing(seq: number, given: Partial<Passing>): Passing {
  const bytes = given.bytes ?? Uint8Array.of(0x99, 36, 97);
  const made: Passing = {
    seq,
    cause: 0,
    later: false,
    at: 0,
    lineId: 'pads',
    senderId: null,
    direction: 'in',
    length: bytes.length,
    reason: '',
    bytes,
  };
  return { ...made, ...given };
}

export const fogPacket = encodeOsc({
  kind: 'osc',
  address: '/fog/density',
  args: [{ type: 'f', value: 0.25 }],
});
