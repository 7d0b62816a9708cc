/** Linear timecode in sound: a frame after the other, as a line with sound hears and plays it. */
import { z } from 'zod';
import { frameReader, frameSender } from './frames.js';
import { HEARD, SENT, type TimeWay } from './way.js';

export const source = z.object({ ...HEARD, kind: z.literal('ltc') });
export const output = z.object({ ...SENT, kind: z.literal('ltc') });

export const ltc: TimeWay<z.infer<typeof source>, z.infer<typeof output>> = {
  words: 'Linear timecode',
  of: 'position',
  fits: (line) => line.startsWith('sound-'),
  lineWords: 'a line with sound',
  reader: (_, place) => frameReader(place),
  output: (_, place) => frameSender(place),
  sends: (_, rate) => rate,
};
