import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compilePattern } from './pattern.js';

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
