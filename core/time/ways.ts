/** Every way to carry time. A new one is a file in `ways/` and a line in each of the lists. */
import { z } from 'zod';
import type { LineKind } from '../show/line.js';
import * as artnet from './ways/artnet.js';
import * as clock from './ways/clock.js';
import * as ltc from './ways/ltc.js';
import * as mmc from './ways/mmc.js';
import * as mtc from './ways/mtc.js';
import * as osc from './ways/osc.js';
import type { TimeWay } from './ways/way.js';

/** In the order in which the interface lists them; the first that fits a line is what a new row has. */
const LIST = {
  mtc: mtc.mtc,
  mmc: mmc.mmc,
  clock: clock.clock,
  artnet: artnet.artnet,
  ltc: ltc.ltc,
  osc: osc.osc,
} as const;

/** Where the position or the tempo comes from. Rows are in the order of preference. */
export const timeSourceSchema = z.discriminatedUnion('kind', [
  mtc.source,
  mmc.source,
  clock.source,
  artnet.source,
  ltc.source,
  osc.source,
]);
export type TimeSource = z.infer<typeof timeSourceSchema>;

/** Where the position or the tempo is sent. */
export const timeOutputSchema = z.discriminatedUnion('kind', [
  mtc.output,
  mmc.output,
  clock.output,
  artnet.output,
  ltc.output,
  osc.output,
]);
export type TimeOutput = z.infer<typeof timeOutputSchema>;

export type TimeKind = (TimeSource | TimeOutput)['kind'];

/** The description of each way. Call its functions only with rows of that way. */
export const TIME_WAYS = LIST as unknown as Readonly<Record<TimeKind, TimeWay<TimeSource, TimeOutput>>>;
const TIME_KINDS = Object.keys(LIST) as TimeKind[];

/** What time can be about. */
export type TimeOf = TimeWay['of'];

/** The ways that a line can carry, of the position or of the tempo. @param line null for no line */
export const waysOn = (line: LineKind | null, of: TimeOf): TimeKind[] =>
  line === null ? [] : TIME_KINDS.filter((kind) => TIME_WAYS[kind].of === of && TIME_WAYS[kind].fits(line));
