/** Explains a message: what each mapping and route did with it, the closest ones first, and what would change that. */
import { HEARS, type Hear } from './hears.js';
import { mappingName, whenWords } from './mapping/words.js';
import { compilePass } from './routes/compiled.js';
import { routeWords } from './routes/words.js';
import type { Signal } from './signal.js';
import type { Show } from './show.js';
import type { Mapping } from './show/mapping.js';
import { writeChannels, writeNotes, writeSpan } from './typed/range.js';

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
  /** How far it is from matching; 0 if it matched. */
  far: number;
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
  let far = misses.reduce((sum, miss) => sum + (miss.far ?? 1) + (miss.hear ? 0 : 2), 0);
  const also = (words: string): void => {
    missed.push(words);
    far++;
  };
  const mend: Mend = {};
  let hear: Hear | null = mapping.hear;
  // Each change is applied to the result of the changes before it.
  for (const miss of misses)
    hear = miss.hear && hear ? ({ ...hear, ...changed(mapping.hear, miss.hear) } as Hear) : null;
  if (mapping.hear.lineId !== lineId) {
    also(`wanted ${lineName(mapping.hear.lineId)}, came from ${lineName(lineId)}`);
    hear = hear && { ...hear, lineId };
  }
  if (show.lines.find((line) => line.id === lineId)?.muted) {
    also(`${lineName(lineId)} is muted`);
    mend.unmute = lineId;
  }
  if (!mapping.on) {
    also('it is switched off');
    mend.on = true;
  }
  const bank = show.banks.find((candidate) => candidate.id === mapping.bankId);
  if (bank && !bank.on) {
    also(`bank ${bank.name} is off`);
    mend.bankId = bank.id;
  }
  const wanted = show.banks.find((candidate) => candidate.id === mapping.when.bankId);
  if (wanted && !wanted.on) {
    also(`it wants bank ${wanted.name} on, which is off`);
    mend.bankId ??= wanted.id;
  }
  if (hear && hear !== mapping.hear) mend.hear = hear;
  return {
    far,
    mappingId: mapping.id,
    name: mappingName(mapping),
    missed,
    only: whenWords(mapping.when, middleC),
    mend: hear === null || missed.length === 0 ? null : mend,
  };
}

/** Says what a change does, as a button does: `Set its channel to 9`, `Switch it on`. @param mapping as it is now */
export function mendWords(show: Show, { hear: now }: Mapping, { hear, on, bankId, unmute }: Mend): string {
  const { middleC } = show.settings;
  const nameIn = (rows: readonly { id: string; name: string }[], id: string | null): string =>
    rows.find((row) => row.id === id)?.name ?? '';
  const parts: string[] = [];
  const differs = hear ? Object.keys(changed(now, hear)) : [];
  for (const member of differs) {
    if (member === 'channels' && 'channels' in hear!)
      parts.push(`set its channel to ${writeChannels(hear.channels)}`);
    else if (member === 'lineId') parts.push(`set its line to ${nameIn(show.lines, hear!.lineId)}`);
    else if (member === 'numbers' && 'numbers' in hear!) {
      const called = HEARS[hear.message].number?.toLowerCase() ?? 'number';
      const number = called === 'note' ? writeNotes(hear.numbers, middleC) : writeSpan(hear.numbers);
      parts.push(`set its ${called} to ${number}`);
    } else if (member === 'values') parts.push('accept any force or value');
    else parts.push(`set its ${member}`);
  }
  if (on) parts.push('switch it on');
  if (bankId !== undefined) parts.push(`switch on bank ${nameIn(show.banks, bankId)}`);
  if (unmute !== undefined) parts.push(`unmute ${nameIn(show.lines, unmute)}`);
  const words = parts.join(', and ');
  return words.charAt(0).toUpperCase() + words.slice(1);
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
  return show.mappings
    .map((mapping) => accountOf(show, mapping, lineId, signal))
    .sort((a, b) => a.far - b.far)
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
