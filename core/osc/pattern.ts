/**
 * OSC address patterns (OSC 1.0, "OSC Message Dispatching and Pattern Matching"):
 * `?` one character, `*` any number of them, `[a-z]` `[!abc]` one of a set, `{one,two}` one of some words.
 * None of them matches a slash.
 *
 * Patterns arrive from outside, so matching keeps the set of places in the address that the pattern
 * can have reached: its cost is the pattern's length times the address's, whatever was written.
 */

/** A part of a pattern: from a place in the address to all the places it can lead to. */
type Step = (address: string, from: number, reach: (to: number) => void) => void;

const SLASH = 47;

/** Whether an address has a character that makes it a pattern. */
export const isPattern = (address: string): boolean => /[?*[\]{}]/.test(address);

const anyOne: Step = (address, from, reach) => {
  if (from < address.length && address.charCodeAt(from) !== SLASH) reach(from + 1);
};

const anyNumber: Step = (address, from, reach) => {
  let to = from;
  reach(to);
  while (to < address.length && address.charCodeAt(to) !== SLASH) reach(++to);
};

const oneWord =
  (words: string[]): Step =>
  (address, from, reach) => {
    for (const word of words) if (address.startsWith(word, from)) reach(from + word.length);
  };

function inSet(body: string): Step {
  const negated = body.startsWith('!');
  const chars = negated ? body.slice(1) : body;
  const ranges: [number, number][] = [];
  for (let i = 0; i < chars.length; i++) {
    const low = chars.charCodeAt(i);
    // "A minus sign at the end of the string has no special meaning."
    const isRange = chars[i + 1] === '-' && i + 2 < chars.length;
    ranges.push([low, isRange ? chars.charCodeAt(i + 2) : low]);
    if (isRange) i += 2;
  }
  return (address, from, reach) => {
    const code = address.charCodeAt(from);
    if (from >= address.length || code === SLASH) return;
    if (ranges.some(([low, high]) => code >= low && code <= high) !== negated) reach(from + 1);
  };
}

/**
 * A test for addresses. A pattern with a bracket that is never closed matches only the address
 * that is written just like it.
 */
export function compilePattern(pattern: string): (address: string) => boolean {
  const steps: Step[] = [];
  for (let i = 0; i < pattern.length; i++) {
    const char = pattern[i]!;
    if (char === '?') steps.push(anyOne);
    else if (char === '*') steps.push(anyNumber);
    else if (char === '[' || char === '{') {
      const end = pattern.indexOf(char === '[' ? ']' : '}', i);
      if (end < 0) return (address) => address === pattern;
      const body = pattern.slice(i + 1, end);
      steps.push(char === '[' ? inSet(body) : oneWord(body.split(',')));
      i = end;
    } else {
      let end = i + 1;
      while (end < pattern.length && !'?*[{'.includes(pattern[end]!)) end++;
      steps.push(oneWord([pattern.slice(i, end)]));
      i = end - 1;
    }
  }
  return (address) => {
    let places = new Set([0]);
    for (const step of steps) {
      const next = new Set<number>();
      for (const from of places) step(address, from, (to) => next.add(to));
      if (next.size === 0) return false;
      places = next;
    }
    return places.has(address.length);
  };
}

/**
 * What stood in the parts of an address that a pattern leaves open, in their order: of `/deck/clip*` and `/deck/clip7` it is `7`. No
 * wildcard matches a slash, so each open part lies within one part of the address.
 * @returns a function for addresses that match the pattern
 */
export function openParts(pattern: string): (address: string) => string[] {
  const open = pattern.split('/').flatMap((part, at) => {
    const from = part.search(/[?*[{]/);
    if (from < 0) return [];
    const end = Math.max(
      part.lastIndexOf('?'),
      part.lastIndexOf('*'),
      part.lastIndexOf(']'),
      part.lastIndexOf('}'),
    );
    return [{ at, from, after: part.length - 1 - end }];
  });
  return (address) => {
    const parts = address.split('/');
    return open.map(({ at, from, after }) => {
      const part = parts[at] ?? '';
      return part.slice(from, part.length - after);
    });
  };
}
