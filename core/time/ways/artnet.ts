/** Timecode over Art-Net: a packet a frame. */
import { z } from 'zod';
import { frameReader, frameSender } from './frames.js';
import { HEARD, SENT, type TimeWay } from './way.js';

export const source = z.object({ ...HEARD, kind: z.literal('artnet') });
export const output = z.object({ ...SENT, kind: z.literal('artnet') });

export const artnet: TimeWay<z.infer<typeof source>, z.infer<typeof output>> = {
  words: 'Art-Net timecode',
  of: 'position',
  fits: (line) => line === 'artnet',
  lineWords: 'an Art-Net line',
  reader: (_, place) => frameReader(place),
  output: (_, place) => frameSender(place),
  sends: (_, rate) => rate,
};
