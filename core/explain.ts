/** Explains a message: what each mapping and route did with it, the closest ones first, and what would change that. */
import { HEARS, type Hear } from './hears.js';
import { mappingName, whenWords } from './mapping/words.js';
import { compilePass } from './routes/compiled.js';
import { routeWords } from './routes/words.js';
import type { Signal } from './signal.js';
import type { Show } from './show.js';
import type { Mapping } from './show/mapping.js';

/** The change that would have made a mapping fire. */
export interface Mend {
  hear?: Hear;
  on?: true;
  /** A bank to switch on. */
  bankId?: string;
  /** A line to unmute. */
  unmute?: string;
}

export interface Account {
  mappingId: string;
  name: string;
  /** The reasons why it did not match, in words: `wanted channel 3, got 4`. Empty if it matched. */
  missed: string[];
  /** If it matched: its conditions, in words; empty for none. */
  only: string;
  /** The change that would make it match; null if it matched, or hears a different kind of message. */
  mend: Mend | null;
}

function accountOf(show: Show, mapping: Mapping, lineId: string, signal: Signal): Account {
  const lineName = (id: string | null): string =>
    show.lines.find((line) => line.id === id)?.name ?? 'no line';
  const { middleC } = show.settings;
  const misses = HEARS[mapping.hear.message].misses(mapping.hear, signal, middleC);
  const missed = misses.map(({ words }) => words);
  const mend: Mend = {};
  let hear: Hear | null = mapping.hear;
  // Each change is applied to the result of the changes before it.
  for (const miss of misses)
    hear = miss.hear && hear ? ({ ...hear, ...changed(mapping.hear, miss.hear) } as Hear) : null;
  if (mapping.hear.lineId !== lineId) {
    missed.push(`wanted ${lineName(mapping.hear.lineId)}, came from ${lineName(lineId)}`);
    hear = hear && { ...hear, lineId };
  }
  if (show.lines.find((line) => line.id === lineId)?.muted) {
    missed.push(`${lineName(lineId)} is muted`);
    mend.unmute = lineId;
  }
  if (!mapping.on) {
    missed.push('it is switched off');
    mend.on = true;
  }
  const bank = show.banks.find((candidate) => candidate.id === mapping.bankId);
  if (bank && !bank.on) {
    missed.push(`bank ${bank.name} is off`);
    mend.bankId = bank.id;
  }
  const wanted = show.banks.find((candidate) => candidate.id === mapping.when.bankId);
  if (wanted && !wanted.on) {
    missed.push(`it wants bank ${wanted.name} on, which is off`);
    mend.bankId ??= wanted.id;
  }
  if (hear && hear !== mapping.hear) mend.hear = hear;
  return {
    mappingId: mapping.id,
    name: mappingName(mapping),
    missed,
    only: whenWords(mapping.when, middleC),
    mend: hear === null || missed.length === 0 ? null : mend,
  };
}

/** The members in which one hear differs from another. */
const changed = (before: Hear, after: Hear): Partial<Hear> =>
  Object.fromEntries(
    Object.entries(after).filter(([key, value]) => (before as Record<string, unknown>)[key] !== value),
  ) as Partial<Hear>;

/**
 * Explains what each mapping of the show does with a signal on a line, the closest ones first.
 * @param most the largest number of mappings to return
 */
export function explain(show: Show, lineId: string, signal: Signal, most = 4): Account[] {
  const distance = ({ missed, mend }: Account): number =>
    missed.length + (missed.length > 0 && !mend ? 2 : 0);
  return show.mappings
    .map((mapping) => accountOf(show, mapping, lineId, signal))
    .sort((a, b) => distance(a) - distance(b))
    .slice(0, most);
}

export interface RouteAccount {
  routeId: string;
  /** `Score player → Fog laser` */
  name: string;
  /** What it lets through, in words, if the signal did not pass; null if it did. */
  keptOut: string | null;
}

/** Explains what each route from a line does with a signal. */
export function explainRoutes(show: Show, lineId: string, signal: Signal): RouteAccount[] {
  const lineName = (id: string | null): string =>
    show.lines.find((line) => line.id === id)?.name ?? 'no line';
  return show.routes
    .filter((route) => route.fromId === lineId)
    .map((route) => {
      const passes = compilePass(route)(signal) !== null;
      const keptOut = !route.on
        ? 'it is switched off'
        : passes
          ? null
          : `it lets through: ${routeWords(route)}`;
      return { routeId: route.id, name: `${lineName(route.fromId)} → ${lineName(route.toId)}`, keptOut };
    });
}
