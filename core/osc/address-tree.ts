/**
 * Addresses and patterns by their parts between slashes, to find those that match without trying each one. No wildcard matches a slash (OSC 1.0,
 * "OSC Message Dispatching and Pattern Matching"), so a pattern matches part by part. The cost of a search is that of the parts that are beside
 * those that match, and not of all that is in the tree.
 */
import { compilePattern, isPattern, LONGEST_ADDRESS, patternFault } from './pattern.js';

interface Node<T> {
  /** What is at the address that ends here; null if none does. */
  item: { address: string; value: T } | null;
  /** By a part without wildcards. */
  named: Map<string, Node<T>>;
  /** By a part with wildcards. */
  open: Map<string, { matches: (part: string) => boolean; node: Node<T> }>;
  /** The keys of `named` in order, for parts with the same beginning; null until they are needed. */
  sorted: string[] | null;
}

export interface AddressTree<T> {
  /** Returns what is at an address or pattern, made by `make` if there is nothing yet. */
  at(address: string, make: () => T): T;
  /** Whether a pattern is in the tree. */
  hasPatterns(): boolean;
  /** Returns what is at every pattern that matches an address, in no order. */
  patternsOf(address: string): T[];
  /** Returns what is at every address without wildcards that matches a pattern, in no order. */
  matching(pattern: string): T[];
}

const newNode = <T>(): Node<T> => ({ item: null, named: new Map(), open: new Map(), sorted: null });

/** Whether each part of a pattern can be matched by itself: not where a bracket has a slash in it, or is never closed. */
const isSplit = (pattern: string): boolean =>
  pattern.split('/').every((part) => /^(?:[^[{\]}]|\[[^\]]*\]|\{[^}]*\})*$/.test(part));

/** Returns the index of the first text that is not before `wanted`. */
function lowerBound(sorted: readonly string[], wanted: string): number {
  let from = 0;
  let to = sorted.length;
  while (from < to) {
    const middle = (from + to) >> 1;
    if (sorted[middle]! < wanted) from = middle + 1;
    else to = middle;
  }
  return from;
}

/** Adds the children of a node whose names match a part with wildcards. */
function addMatching<T>(
  node: Node<T>,
  part: string,
  matches: (part: string) => boolean,
  to: Node<T>[],
): void {
  const start = part.slice(0, part.search(/[?*[{]/));
  const sorted = (node.sorted ??= [...node.named.keys()].sort());
  for (let at = lowerBound(sorted, start); at < sorted.length && sorted[at]!.startsWith(start); at++)
    if (matches(sorted[at]!)) to.push(node.named.get(sorted[at]!)!);
}

export function createAddressTree<T>(): AddressTree<T> {
  const root = newNode<T>();
  /** Patterns whose parts cannot be matched one by one. */
  const whole = new Map<string, { matches: (address: string) => boolean; value: T }>();
  let patterns = 0;

  function nodeAt(address: string): Node<T> {
    let node = root;
    for (const part of address.split('/')) {
      if (isPattern(part)) {
        let next = node.open.get(part);
        if (!next) node.open.set(part, (next = { matches: compilePattern(part), node: newNode() }));
        node = next.node;
        continue;
      }
      let next = node.named.get(part);
      if (!next) {
        node.named.set(part, (next = newNode()));
        node.sorted = null;
      }
      node = next;
    }
    return node;
  }

  function atPattern(pattern: string, make: () => T): T {
    const known = whole.get(pattern);
    if (known) return known.value;
    const made = { matches: compilePattern(pattern), value: make() };
    whole.set(pattern, made);
    return made.value;
  }

  const itemsOf = (nodes: readonly Node<T>[]): T[] => nodes.flatMap(({ item }) => (item ? [item.value] : []));

  /** Goes from the root along the parts of a text. @param next adds the children that a part leads to */
  function walk(text: string, next: (node: Node<T>, part: string, to: Node<T>[]) => void): Node<T>[] {
    let nodes = [root];
    for (const part of text.split('/')) {
      const to: Node<T>[] = [];
      for (const node of nodes) next(node, part, to);
      if (to.length === 0) return to;
      nodes = to;
    }
    return nodes;
  }

  function addNamed(node: Node<T>, part: string, to: Node<T>[]): void {
    const child = node.named.get(part);
    if (child) to.push(child);
  }

  /** Every address in the tree that has no wildcards. */
  function* addresses(node = root): Iterable<{ address: string; value: T }> {
    if (node.item) yield node.item;
    for (const child of node.named.values()) yield* addresses(child);
  }

  return {
    at(address, make) {
      const pattern = isPattern(address);
      if (pattern && (!isSplit(address) || patternFault(address) !== null)) return atPattern(address, make);
      const node = nodeAt(address);
      if (!node.item) {
        node.item = { address, value: make() };
        if (pattern) patterns++;
      }
      return node.item.value;
    },
    hasPatterns: () => patterns + whole.size > 0,
    patternsOf(address) {
      if (address.length > LONGEST_ADDRESS) return [];
      const found = [...whole.values()].flatMap(({ matches, value }) => (matches(address) ? [value] : []));
      if (patterns === 0) return found;
      const nodes = walk(address, (node, part, to) => {
        addNamed(node, part, to);
        for (const { matches, node: child } of node.open.values()) if (matches(part)) to.push(child);
      });
      return [...found, ...itemsOf(nodes.filter(({ item }) => item && isPattern(item.address)))];
    },
    matching(pattern) {
      if (patternFault(pattern) !== null) return [];
      if (!isSplit(pattern)) {
        const matches = compilePattern(pattern);
        return [...addresses()].flatMap(({ address, value }) => (matches(address) ? [value] : []));
      }
      const compiled = new Map<string, (part: string) => boolean>();
      const nodes = walk(pattern, (node, part, to) => {
        if (!isPattern(part)) return addNamed(node, part, to);
        let matches = compiled.get(part);
        if (!matches) compiled.set(part, (matches = compilePattern(part)));
        addMatching(node, part, matches, to);
      });
      return itemsOf(nodes.filter(({ item }) => item && item.address.length <= LONGEST_ADDRESS));
    },
  };
}
