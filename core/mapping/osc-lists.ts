/** The mappings that hear OSC on one line, by address and by pattern. */
import { createAddressTree } from '../osc/address-tree.js';
import { isPattern, LONGEST_PATTERN } from '../osc/pattern.js';
import type { CompiledMapping } from './compiled.js';

export interface OscLists {
  /** Returns the list of those that hear an address or pattern, to add to or remove from. */
  at(address: string): CompiledMapping[];
  /** Returns those that hear an address or pattern that arrived, in the order of the sheet. Do not change or keep the list. */
  find(address: string): readonly CompiledMapping[];
}

/** The size of the cache of patterns that arrived. */
const MOST_FOUND = 128;
const NOBODY: readonly CompiledMapping[] = [];

/** Compares by the order of the sheet. */
export const inOrder = (a: CompiledMapping, b: CompiledMapping): number => a.order - b.order;

export function createOscLists(): OscLists {
  /** By address, for those without wildcards. */
  const exact = new Map<string, CompiledMapping[]>();
  /** All lists: those of `exact`, and those of patterns. */
  const tree = createAddressTree<CompiledMapping[]>();
  /** The mappings that match each pattern that arrived. Senders repeat their patterns. Cleared when the addresses change. */
  const found = new Map<string, CompiledMapping[]>();

  function newList(address: string): CompiledMapping[] {
    const list: CompiledMapping[] = [];
    if (!isPattern(address)) exact.set(address, list);
    return list;
  }

  function findPattern(pattern: string): readonly CompiledMapping[] {
    const known = found.get(pattern);
    if (known) return known;
    const mappings = tree.matching(pattern).flat().sort(inOrder);
    if (found.size >= MOST_FOUND) found.clear();
    if (pattern.length <= LONGEST_PATTERN) found.set(pattern, mappings);
    return mappings;
  }

  return {
    at(address) {
      found.clear();
      return tree.at(address, () => newList(address));
    },
    find(address) {
      if (isPattern(address)) return findPattern(address);
      const here = exact.get(address) ?? NOBODY;
      if (!tree.hasPatterns()) return here;
      const more = tree.patternsOf(address).flat();
      return more.length === 0 ? here : [...here, ...more].sort(inOrder);
    },
  };
}
