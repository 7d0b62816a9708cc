import { expect, test } from '@jest/globals';
import { z } from 'zod';
import { unknownFields } from './unknown-fields.js';

const schema = z.object({
  name: z.string(),
  range: z.tuple([z.number(), z.number()]).optional(),
  sends: z.array(z.object({ address: z.string().default('/') })),
  typed: z.union([z.literal('any'), z.object({ from: z.number() })]).default('any'),
});
const of = (given: unknown): string[] => unknownFields(given, schema.parse(given));

test('fields that a schema does not know are named with their path', () => {
  expect(of({ name: 'Wave', sends: [] })).toEqual([]);
  expect(of({ name: 'Wave', nmae: 'Tide', sends: [{ address: '/a' }, { adress: '/b' }] })).toEqual([
    'nmae',
    'sends.1.adress',
  ]);
  expect(of({ name: 'Wave', sends: [], typed: { from: 1, to: 2 } })).toEqual(['typed.to']);
  expect(of({ name: 'Wave', sends: [], range: [1, 2], left: undefined })).toEqual([]);
});

test('what was turned into something else is passed over, and no more than 20 are named', () => {
  expect(unknownFields({ a: [1, 2] }, { a: [1] })).toEqual([]);
  expect(unknownFields({ a: { b: 1 } }, { a: 'b' })).toEqual([]);
  const many = Object.fromEntries(Array.from({ length: 50 }, (_, at) => [`x${at}`, { y: 1 }]));
  expect(unknownFields({ z: many, ...many }, { z: {} })).toHaveLength(20);
});
