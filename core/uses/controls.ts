/** What uses each control of a layout: mappings that hear it, moments that it calls, mappings that want it held, feedback to its lamp, routes that pass it on. */
import { HEARS, type Hear } from '../hears.js';
import { channelsOf, numbersOf } from '../hears/parts.js';
import { mappingName } from '../mapping/words.js';
import { compilePass } from '../routes/compiled.js';
import type { Layout, LayoutControl } from '../show/layout.js';
import { momentName } from '../show/moment-name.js';
import type { Route } from '../show/route.js';
import type { Show } from '../show.js';
import type { ChannelKind, Signal } from '../signal.js';

/** One thing that uses a control. */
export interface ControlUse {
  of: 'mapping' | 'moment' | 'held with' | 'feedback' | 'route';
  /** The id of the mapping, moment or route. */
  id: string;
  /** `Storm glass breaks`, `calls 3 Fog bank`, `passed on to Fog laser` */
  words: string;
}

/** A control on a line, as text. */
type Spot = string;
const spotOf = (kind: LayoutControl['kind'], channel: number, number: number): Spot =>
  `${kind} ${channel} ${kind === 'bend' ? 0 : number}`;

/** A hear that wants more controls than this is asked about each control, instead of being listed at each. */
const MANY = 256;

interface Hearing {
  hear: Hear;
  use: ControlUse;
}

/** Everything on a line that hears controls, and what does so at a single control. */
function hearingOn(show: Show, lineId: string): { hearing: Hearing[]; at: [Spot, ControlUse][] } {
  const hearing: Hearing[] = [];
  const at: [Spot, ControlUse][] = [];
  for (const mapping of show.mappings) {
    const { id, hear, when, answer } = mapping;
    const words = mappingName(mapping);
    if (hear.lineId === lineId) hearing.push({ hear, use: { of: 'mapping', id, words } });
    if (hear.lineId === lineId && when.shift)
      at.push([
        spotOf('note', when.shift.channel, when.shift.number),
        { of: 'held with', id, words: `held with ${words}` },
      ]);
    if (answer?.lineId === lineId)
      at.push([
        spotOf(answer.kind, answer.channel, answer.number),
        { of: 'feedback', id, words: `feedback of ${words}` },
      ]);
  }
  for (const moment of show.moments)
    for (const hear of moment.callers)
      if (hear.lineId === lineId)
        hearing.push({
          hear,
          use: { of: 'moment', id: moment.id, words: `calls ${momentName(moment)}` },
        });
  return { hearing, at };
}

function wants(hear: Hear, { kind, channel, number }: LayoutControl): boolean {
  if (HEARS[hear.message].layout !== kind || !channelsOf(hear).includes(channel)) return false;
  const [from, to] = numbersOf(hear);
  return kind === 'bend' || (number >= from && number <= to);
}

const KINDS: Record<LayoutControl['kind'], ChannelKind> = {
  note: 'noteOn',
  control: 'controlChange',
  bend: 'pitchBend',
};
const signalOf = ({ kind, channel, number }: LayoutControl): Signal => ({
  kind: KINDS[kind],
  channel,
  number: kind === 'bend' ? 0 : number,
  value: 127,
});

function routesFrom(show: Show, lineId: string): { route: Route; use: ControlUse }[] {
  return show.routes
    .filter((route) => route.fromId === lineId)
    .map((route) => {
      const to = show.lines.find(({ id }) => id === route.toId)?.name ?? 'no line';
      return { route, use: { of: 'route', id: route.id, words: `passed on to ${to}` } };
    });
}

/** The uses of each control, by the control's id. A control that is not in the map is free. */
export function usesOfControls(show: Show, { lineId, controls }: Layout): Map<string, ControlUse[]> {
  const uses = new Map<string, ControlUse[]>();
  if (lineId === null) return uses;
  const { hearing, at } = hearingOn(show, lineId);
  const bySpot = new Map<Spot, ControlUse[]>();
  const put = (spot: Spot, use: ControlUse): unknown => bySpot.set(spot, [...(bySpot.get(spot) ?? []), use]);
  const broad: Hearing[] = [];
  for (const one of hearing) {
    const kind = HEARS[one.hear.message].layout;
    if (!kind) continue;
    const channels = channelsOf(one.hear);
    const [from, to] = kind === 'bend' ? [0, 0] : numbersOf(one.hear);
    if (channels.length * (to - from + 1) > MANY) {
      broad.push(one);
      continue;
    }
    for (const channel of channels)
      for (let number = from; number <= to; number++) put(spotOf(kind, channel, number), one.use);
  }
  for (const [spot, use] of at) put(spot, use);
  const routes = routesFrom(show, lineId).map(({ route, use }) => ({ passes: compilePass(route), use }));
  for (const control of controls) {
    const found = [
      ...(bySpot.get(spotOf(control.kind, control.channel, control.number)) ?? []),
      ...broad.filter(({ hear }) => wants(hear, control)).map(({ use }) => use),
      ...routes.filter(({ passes }) => passes(signalOf(control)) !== null).map(({ use }) => use),
    ];
    if (found.length > 0) uses.set(control.id, found);
  }
  return uses;
}
