/**
 * Preflight: the show read for faults before anyone hears them. One rule a function; each finding leads to its rows.
 */
import { writeControl, type Control } from '../control/control.js';
import { channelsOf, numbersOf } from '../hears/parts.js';
import { HEARS, controlsOf, hearTitle } from '../hears.js';
import { byText, targetsOf } from '../mapping/overlap.js';
import { targetOf, SENDS, sendTitle, type Send } from '../sends.js';
import { isNone } from '../time/span.js';
import { mappingName } from '../mapping/words.js';
import { FIVE_PIN_BYTES } from '../show/line.js';
import type { Show } from '../show.js';
import type { Mapping } from '../show/mapping.js';
import type { Finding, Place, SeenLately } from './finding.js';
import { MOMENT_RULES } from './moment-rules.js';
import { MOTION_RULES } from './motion-rules.js';
import { TIME_RULES } from './time-rules.js';

export const NOTHING_SEEN: SeenLately = { heard: [], outBytes: {} };
const placeOf = (mapping: Mapping): Place => ({
  table: 'mappings',
  id: mapping.id,
  name: mappingName(mapping),
});

/** Mappings that are on; a bank that is off may be switched on in the show, so its mappings count. */
const active = (show: Show): Mapping[] => show.mappings.filter(({ on }) => on);

/** Groups of at least two that share a text, each group once. */
function shared<T>(items: readonly T[], textsOf: (item: T) => string[]): { items: T[]; text: string }[] {
  const order = new Map(items.map((item, at) => [item, at]));
  const groups = new Map<string, { items: T[]; text: string }>();
  for (const [text, list] of byText(items, textsOf)) {
    if (list.length < 2) continue;
    const key = list.map((item) => order.get(item)).join();
    if (!groups.has(key)) groups.set(key, { items: list, text });
  }
  return [...groups.values()];
}

const namesOf = (mappings: readonly Mapping[]): string => mappings.map(mappingName).join(' and ');

function sameControl(show: Show): Finding[] {
  // Conditions may keep them apart, and a press beside a release is meant.
  const plain = active(show).filter(
    ({ when }) => when.shift === null && when.heldForMs === 0 && when.twiceInMs === 0,
  );
  const presses = (mappings: Mapping[]): Mapping[] =>
    mappings.filter(({ hear }) => hear.message !== 'released');
  return shared(plain, ({ hear }) => controlsOf(hear))
    .filter(({ items }) => presses(items).length > 1 && new Set(items.map((one) => one.bankId)).size === 1)
    .map(({ items }) => ({
      rule: 'one control, several mappings',
      weight: 'warning',
      words: `${namesOf(items)} hear the same control (${hearTitle(items[0]!.hear)}): all of them fire, in this order.`,
      places: items.map(placeOf),
    }));
}

function noRelease(show: Show): Finding[] {
  return active(show).flatMap((mapping) => {
    const { hear, sends } = mapping;
    const never = hear.message === 'pressed' || hear.message === 'keyPressed' || hear.message === 'program';
    if (!never) return [];
    return sends.flatMap((send): Finding[] => {
      if (send.kind === 'note' && SENDS.note.length!(send) === null) {
        const words = `${mappingName(mapping)} presses note ${send.number} and never releases it: hear the note held, or give it a length.`;
        return [{ rule: 'a press without a release', weight: 'fault', words, places: [placeOf(mapping)] }];
      }
      if (send.kind === 'key' && !isNone({ ms: send.repeatMs, beats: send.repeatBeats })) {
        const words = `${mappingName(mapping)} repeats a key, but never hears the release, so it taps once: hear the control held.`;
        return [{ rule: 'a repeat without an end', weight: 'fault', words, places: [placeOf(mapping)] }];
      }
      return [];
    });
  });
}

function exactForce(show: Show): Finding[] {
  return active(show).flatMap((mapping): Finding[] => {
    const { hear } = mapping;
    if (!(hear.message === 'pressed' || hear.message === 'held') || hear.values === 'any') return [];
    if (hear.values[0] !== hear.values[1]) return [];
    const words = `${mappingName(mapping)} wants force exactly ${hear.values[0]}: nobody hits that twice. Use any force.`;
    return [{ rule: 'an exact force', weight: 'warning', words, places: [placeOf(mapping)] }];
  });
}

function missingLines(show: Show): Finding[] {
  const there = new Set(show.lines.map(({ id }) => id));
  const gone = (id: string | null): boolean => id === null || !there.has(id);
  const findings = active(show).flatMap((mapping): Finding[] => {
    const name = mappingName(mapping);
    const ends = [
      ...(gone(mapping.hear.lineId) ? [`${name} has no input line: choose one.`] : []),
      ...(mapping.sends.some((send) => SENDS[send.kind].protocol !== null && gone(send.lineId))
        ? [`${name} has no output line: choose one.`]
        : []),
      ...(mapping.sends.length === 0 ? [`${name} sends nothing yet: choose what and where to.`] : []),
    ];
    return ends.map((words) => ({
      rule: 'a missing line',
      weight: 'fault',
      words,
      places: [placeOf(mapping)],
    }));
  });
  const routes = show.routes.filter(({ on, fromId, toId }) => on && (gone(fromId) || gone(toId)));
  const muted = show.lines.filter((line) => line.muted);
  return [
    ...findings,
    ...routes.map(({ id }): Finding => ({
      rule: 'a missing line',
      weight: 'fault',
      words: 'A route has no line at one end: choose it, or remove the route.',
      places: [{ table: 'routes', id, name: 'The route' }],
    })),
    ...muted.map(({ id, name }): Finding => ({
      rule: 'a muted line',
      weight: 'warning',
      words: `${name} is muted: nothing is heard or sent on it.`,
      places: [{ table: 'lines', id, name }],
    })),
  ];
}

/** The places that hold a single value. Places that receive notes are left out, since several mappings may send notes. */
const shownAt = (send: Send): string | null =>
  send.kind === 'osc' || send.kind === 'slot' ? targetOf(send) : null;

function sameTarget(show: Show): Finding[] {
  return shared(active(show), ({ sends }) => sends.flatMap((send) => shownAt(send) ?? [])).map(
    ({ items, text }) => {
      const send = items[0]!.sends.find((one) => shownAt(one) === text)!;
      return {
        rule: 'sent from two places',
        weight: 'warning',
        words: `${namesOf(items)} send to ${sendTitle(send, show.settings.middleC)}: the last one wins.`,
        places: items.map(placeOf),
      };
    },
  );
}

function loops(show: Show): Finding[] {
  const mappings = active(show);
  const hearing = byText(mappings, ({ hear }) => (hear.lineId === null ? [] : controlsOf(hear)));
  const next = (mapping: Mapping): Mapping[] =>
    mapping.sends.flatMap((send) =>
      targetsOf(mapping.hear, send).flatMap((target) => hearing.get(target) ?? []),
    );
  const done = new Set<Mapping>();
  const found: Finding[] = [];
  function walk(path: Mapping[]): void {
    const last = path.at(-1)!;
    for (const one of next(last)) {
      const from = path.indexOf(one);
      if (from >= 0) {
        const ring = path.slice(from);
        found.push({
          rule: 'a loop',
          weight: 'warning',
          words: `${[...ring, one].map(mappingName).join(' → ')}: each sends what the next one hears on the same line. If that line echoes what it gets, this never ends.`,
          places: ring.map(placeOf),
        });
      } else if (!done.has(one)) walk([...path, one]);
    }
    done.add(last);
  }
  for (const mapping of mappings) if (!done.has(mapping)) walk([mapping]);
  return found;
}

/** Finds controls that arrive on a channel next to the one that is wanted. */
function channelOffByOne(show: Show, { heard }: SeenLately): Finding[] {
  const seen = new Set<string>();
  for (const { lineId, signal } of heard) {
    if (!('channel' in signal)) continue;
    const sort = signal.kind === 'controlChange' ? 'cc' : signal.kind === 'noteOn' ? 'note' : null;
    if (!sort) continue;
    const control: Control = { kind: sort, channel: signal.channel, number: signal.number };
    seen.add(`${lineId} ${writeControl(control)}`);
  }
  return active(show).flatMap((mapping): Finding[] => {
    const { hear } = mapping;
    const [channel, second] = channelsOf(hear);
    const [number, lastNumber] = numbersOf(hear);
    const spot = HEARS[hear.message].spot(hear);
    const kinds = spot.in === 'cells' ? spot.kinds : [];
    if (channel === undefined || second !== undefined || number !== lastNumber || !('numbers' in hear))
      return [];
    const kind = kinds.includes('controlChange') ? 'cc' : kinds.includes('noteOn') ? 'note' : null;
    if (!kind) return [];
    const came = (on: number): boolean =>
      on >= 0 && on < 16 && seen.has(`${hear.lineId} ${writeControl({ kind, channel: on, number })}`);
    const beside = [channel - 1, channel + 1].find(came);
    if (came(channel) || beside === undefined) return [];
    const words = `${mappingName(mapping)} wants channel ${channel + 1}; channel ${beside + 1} was received. Some programs count channels from 0.`;
    return [{ rule: 'a channel off by one', weight: 'fault', words, places: [placeOf(mapping)] }];
  });
}

function tooMuch(show: Show, { outBytes }: SeenLately): Finding[] {
  return show.lines.flatMap((line): Finding[] => {
    const bytes = outBytes[line.id] ?? 0;
    if (!('fivePin' in line) || !line.fivePin || bytes <= FIVE_PIN_BYTES) return [];
    const words = `${line.name} carries ${bytes} bytes a second; a 5-pin cable carries ${FIVE_PIN_BYTES}: messages will be late.`;
    return [
      {
        rule: 'too much for a 5-pin cable',
        weight: 'fault',
        words,
        places: [{ table: 'lines', id: line.id, name: line.name }],
      },
    ];
  });
}

const RULES: ((show: Show, seen: SeenLately) => Finding[])[] = [
  missingLines,
  ...MOMENT_RULES,
  ...TIME_RULES,
  ...MOTION_RULES,
  noRelease,
  channelOffByOne,
  tooMuch,
  exactForce,
  sameControl,
  sameTarget,
  loops,
];

/** Returns all findings, faults first. */
export function preflight(show: Show, seen: SeenLately = NOTHING_SEEN): Finding[] {
  const found = RULES.flatMap((rule) => rule(show, seen));
  return [
    ...found.filter(({ weight }) => weight === 'fault'),
    ...found.filter(({ weight }) => weight === 'warning'),
  ];
}
