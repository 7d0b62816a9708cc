/**
 * OSC address patterns (OSC 1.0, "OSC Message Dispatching and Pattern Matching"):
 * `?` one character, `*` any number of them, `[a-z]` `[!abc]` one of a set, `{one,two}` one of some words.
 * None of them matches a slash.
 *
 * Patterns arrive from outside, so what they may be is limited, and matching marks the places in the address that each part of the pattern
 * can have reached, in one pass over the address a part: its cost is the number of parts times the length of the address, whatever was written.
 */

/** The longest pattern that is taken, and the most parts of it that leave something open. */
export const LONGEST_PATTERN = 256;
export const MOST_OPEN_PARTS = 16;

/** Places in an address, 0 to its length, that can have been reached. */
type Places = Uint8Array;

/** A part of a pattern: marks in `to` the places that it leads to from those in `from`. @returns whether there are any */
type Step = (address: string, from: Places, to: Places) => boolean;

const SLASH = 47;

/** Whether an address has a character that makes it a pattern. */
export const isPattern = (address: string): boolean => /[?*[\]{}]/.test(address);

/** Why a pattern that arrived is not taken, as it goes on after “Not OSC: ”; null for one that is, and for an address that is none. */
export function patternFault(address: string): string | null {
  if (!isPattern(address)) return null;
  if (address.length > LONGEST_PATTERN)
    return `an address pattern of ${address.length} characters; ${LONGEST_PATTERN} is the most`;
  const open = countOpen(address);
  return open > MOST_OPEN_PARTS
    ? `an address pattern with ${open} open parts; ${MOST_OPEN_PARTS} is the most`
    : null;
}

/** Replaces several `*` in a row by one. */
const collapse = (pattern: string): string => pattern.replace(/\*{2,}/g, '*');
const countOpen = (pattern: string): number => collapse(pattern).match(/[?*[{]/g)?.length ?? 0;

const anyOne: Step = (address, from, to) => {
  let any = false;
  for (let at = 0; at < address.length; at++) {
    if (from[at] === 0 || address.charCodeAt(at) === SLASH) continue;
    to[at + 1] = 1;
    any = true;
  }
  return any;
};

const anyNumber: Step = (address, from, to) => {
  let any = false;
  for (let at = 0; at <= address.length; at++) {
    const comesOn = at > 0 && to[at - 1] === 1 && address.charCodeAt(at - 1) !== SLASH;
    if (from[at] === 0 && !comesOn) continue;
    to[at] = 1;
    any = true;
  }
  return any;
};

const oneWord =
  (words: string[]): Step =>
  (address, from, to) => {
    let any = false;
    for (let at = 0; at <= address.length; at++) {
      if (from[at] === 0) continue;
      for (const word of words) {
        if (!address.startsWith(word, at)) continue;
        to[at + word.length] = 1;
        any = true;
      }
    }
    return any;
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
  return (address, from, to) => {
    let any = false;
    for (let at = 0; at < address.length; at++) {
      const code = address.charCodeAt(at);
      if (from[at] === 0 || code === SLASH) continue;
      if (ranges.some(([low, high]) => code >= low && code <= high) === negated) continue;
      to[at + 1] = 1;
      any = true;
    }
    return any;
  };
}

const nothing = (): boolean => false;

/**
 * A test for addresses. A pattern with a bracket that is never closed matches only the address
 * that is written just like it; one that is too long or too open matches nothing.
 */
export function compilePattern(written: string): (address: string) => boolean {
  if (patternFault(written) !== null) return nothing;
  const pattern = collapse(written);
  const steps: Step[] = [];
  for (let i = 0; i < pattern.length; i++) {
    const char = pattern[i]!;
    if (char === '?') steps.push(anyOne);
    else if (char === '*') steps.push(anyNumber);
    else if (char === '[' || char === '{') {
      const end = pattern.indexOf(char === '[' ? ']' : '}', i);
      if (end < 0) return (address) => address === written;
      const body = pattern.slice(i + 1, end);
      steps.push(char === '[' ? inSet(body) : oneWord([...new Set(body.split(','))]));
      i = end;
    } else {
      let end = i + 1;
      while (end < pattern.length && !'?*[{'.includes(pattern[end]!)) end++;
      steps.push(oneWord([pattern.slice(i, end)]));
      i = end - 1;
    }
  }
  // Most addresses differ from the pattern before anything in it is open.
  const fixed = pattern.slice(0, pattern.search(/[?*[{]|$/));
  return (address) => {
    if (address.length > LONGEST_ADDRESS || !address.startsWith(fixed)) return false;
    const size = address.length + 1;
    let from = here.subarray(0, size).fill(0);
    let to = there.subarray(0, size);
    from[0] = 1;
    for (const step of steps) {
      to.fill(0);
      if (!step(address, from, to)) return false;
      [from, to] = [to, from];
    }
    return from[address.length] === 1;
  };
}

/** An address longer than this is matched by no pattern. */
export const LONGEST_ADDRESS = 1024;
/** The marked places. Reused for each match. */
const here = new Uint8Array(LONGEST_ADDRESS + 1);
const there = new Uint8Array(LONGEST_ADDRESS + 1);

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
