import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compilePattern, patternFault } from './pattern.js';
import { runs } from '../runs.test-helper.js';

// Open Sound Control 1.0 Specification, "OSC Message Dispatching and Pattern Matching", rules 1 to 6 (from memory).
test.each([
  ['/fog/density', '/fog/density', true],
  ['/fog/?', '/fog/a', true],
  ['/fog/?', '/fog/', false],
  ['/fog/*', '/fog/density', true],
  ['/fog/*', '/fog/', true],
  ['/*', '/fog/density', false], // no part of a pattern matches a slash
  ['/moment/*/go', '/moment/storm/go', true],
  ['/clip/[1-4]', '/clip/3', true],
  ['/clip/[1-4]', '/clip/5', false],
  ['/clip/[!1-4]', '/clip/5', true],
  ['/clip/[!1-4]', '/clip/3', false],
  ['/clip/[abc-]', '/clip/-', true], // a minus at the end means itself
  ['/{sky,fog}/hue', '/fog/hue', true],
  ['/{sky,fog}/hue', '/tide/hue', false],
  ['/{a,ab}c', '/abc', true],
  ['/a*b*c', '/aXbYc', true],
  ['/a.c', '/abc', false], // a point is only a point
])('%s on %s', (pattern, address, matches) => {
  expect(compilePattern(pattern)(address)).toBe(matches);
});

test('a pattern with a bracket left open matches only itself', () => {
  expect(compilePattern('/a[b')('/a[b')).toBe(true);
  expect(compilePattern('/a[b')('/ab')).toBe(false);
});

test('any address matches itself, and any pattern ends in time', () => {
  const parts = fc.stringMatching(/^[a-z?*[\]{},!-]{0,30}$/);
  fc.assert(
    fc.property(parts, fc.stringMatching(/^[a-z]{0,60}$/), (pattern, address) => {
      expect(typeof compilePattern(`/${pattern}`)(`/${address}`)).toBe('boolean');
      expect(compilePattern(`/${address}`)(`/${address}`)).toBe(true);
    }),
  );
  // A pattern that would take a backtracking matcher longer than the show.
  expect(compilePattern(`/${'*a'.repeat(40)}b`)(`/${'a'.repeat(200)}`)).toBe(false);
});

// What a pattern that arrives may be is limited by us; the specification names no bound.
describe('a pattern that arrives', () => {
  test.each([
    ['/*'.repeat(16), null],
    ['/*'.repeat(17), 'an address pattern with 17 open parts; 16 is the most'],
    [`/${'*'.repeat(200)}`, null], // they say what one says
    [`/*${'a'.repeat(254)}`, null],
    [`/*${'a'.repeat(255)}`, 'an address pattern of 257 characters; 256 is the most'],
    [`/${'a'.repeat(300)}`, null], // no pattern
    ['/{a,b}/[c]/?/*', null],
  ])('%s', (pattern, fault) => {
    expect(patternFault(pattern)).toBe(fault);
  });

  test('that is too open matches nothing, not even itself', () => {
    const pattern = '/*a'.repeat(17);
    expect(compilePattern(pattern)(pattern)).toBe(false);
  });

  test('of many stars says what one says', () => {
    expect(compilePattern('/fog/***')('/fog/density')).toBe(true);
    expect(compilePattern('/fog/**y')('/fog/densit')).toBe(false);
  });

  /** The rules once more, as a regular expression: the language's own matcher, which is not ours. */
  const asRegExp = (pattern: string): RegExp =>
    new RegExp(
      `^${pattern.replace(/\[!?[a-c-]*\]|\{[a-c,]*\}|./g, (part) =>
        part === '*'
          ? '[^/]*'
          : part === '?'
            ? '[^/]'
            : part.startsWith('{')
              ? `(?:${part.slice(1, -1).split(',').join('|')})`
              : part.startsWith('[')
                ? part.replace('[!', '[^/')
                : part.replace('/', '\\/'),
      )}$`,
    );
  test('matches what the language’s own regular expressions match', () => {
    const part = fc.constantFrom('a', 'b', 'c', '?', '*', '[ab]', '[!a]', '{a,bc}', '/');
    fc.assert(
      fc.property(fc.array(part, { maxLength: 8 }), fc.stringMatching(/^[abc/]{0,10}$/), (parts, address) => {
        const pattern = `/${parts.join('')}`;
        expect([pattern, address, compilePattern(pattern)(`/${address}`)]).toEqual([
          pattern,
          address,
          asRegExp(pattern).test(`/${address}`),
        ]);
      }),
      { numRuns: runs(3000) },
    );
  });
});
