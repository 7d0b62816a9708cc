/** JSON (RFC 8259): brackets in texts are no nesting. */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { nestsDeeper } from './nesting.js';

function depthOf(value: unknown): number {
  if (typeof value !== 'object' || value === null) return 0;
  return 1 + Math.max(0, ...Object.values(value).map(depthOf));
}

test('is seen in any JSON, as text and as bytes', () => {
  fc.assert(
    fc.property(fc.jsonValue({ maxDepth: 6 }), fc.integer({ min: 0, max: 7 }), (value, most) => {
      const json = JSON.stringify(value);
      expect(nestsDeeper(json, most)).toBe(depthOf(value) > most);
      expect(nestsDeeper(new TextEncoder().encode(json), most)).toBe(depthOf(value) > most);
    }),
  );
});

test('is not that of brackets in a text, after quotes too', () => {
  expect(nestsDeeper(JSON.stringify({ text: '"[[[[[[\\"{{{{' }), 1)).toBe(false);
  expect(nestsDeeper('['.repeat(900_000))).toBe(true);
});
