/** The tree finds what `compilePattern` matches (checked against OSC 1.0 in pattern.test.ts), and does not try everything. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { createAddressTree } from './address-tree.js';
import { compilePattern, isPattern } from './pattern.js';

const part = fc.constantFrom('a', 'ab', 'abc', 'b', 'b7', '7', '');
const openPart = fc.constantFrom(
  '*',
  '?',
  'a*',
  '*b',
  'a?c',
  '[ab]',
  '[!a]',
  '{a,b7}',
  '{a,ab}*',
  '*7',
  'b{7,}',
);
/** Parts that cannot be matched one by one. */
const oddPart = fc.constantFrom('{a/b,7}', '[a/b]', '[ab', '{a', 'a]', 'b}');
const address = fc.array(part, { minLength: 1, maxLength: 4 }).map((parts) => `/${parts.join('/')}`);
const pattern = fc
  .array(fc.oneof({ weight: 5, arbitrary: part }, { weight: 5, arbitrary: openPart }, oddPart), {
    minLength: 1,
    maxLength: 4,
  })
  .map((parts) => `/${parts.join('/')}`);

describe('the addresses of a tree', () => {
  test('that match a pattern are those that the pattern matches one by one', () => {
    fc.assert(
      fc.property(fc.array(address, { maxLength: 12 }), pattern, (addresses, wanted) => {
        const tree = createAddressTree<string>();
        for (const one of addresses) expect(tree.at(one, () => one)).toBe(one);
        const matches = compilePattern(wanted);
        const expected = [...new Set(addresses)].filter((one) =>
          isPattern(wanted) ? matches(one) : one === wanted,
        );
        expect(tree.matching(wanted).sort()).toEqual(expected.sort());
      }),
      { numRuns: 2000 },
    );
  });

  test('come with the patterns that match an address', () => {
    fc.assert(
      fc.property(fc.array(pattern, { maxLength: 12 }), address, (patterns, arrived) => {
        const tree = createAddressTree<string>();
        for (const one of patterns) tree.at(one, () => one);
        const open = [...new Set(patterns)].filter(isPattern);
        expect(tree.hasPatterns()).toBe(open.length > 0);
        expect(tree.patternsOf(arrived).sort()).toEqual(
          open.filter((one) => compilePattern(one)(arrived)).sort(),
        );
      }),
      { numRuns: 2000 },
    );
  });

  test('are found again once others were added, and nothing longer than 1,024 characters is', () => {
    const tree = createAddressTree<string>();
    const long = `/deck/${'x'.repeat(1020)}`;
    for (const one of ['/deck/1', long]) tree.at(one, () => one);
    expect(tree.matching('/deck/*')).toEqual(['/deck/1']);
    tree.at('/deck/2', () => 'two');
    expect(tree.at('/deck/2', () => 'again')).toBe('two');
    expect(tree.matching('/deck/*').sort()).toEqual(['/deck/1', 'two']);
    expect(tree.matching(`/${'*/?'.repeat(20)}`)).toEqual([]);
    tree.at('/deck/*', () => 'any');
    expect([tree.patternsOf(long), tree.patternsOf('/deck/1')]).toEqual([[], ['any']]);
  });
});
