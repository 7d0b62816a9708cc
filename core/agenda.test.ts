import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { createAgenda } from './agenda.js';

test('what is put comes out in the order of its time, and of two at one time the first that was put', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(20), { maxLength: 60 }), fc.nat(3), (times, rest) => {
      const agenda = createAgenda<[number, number]>();
      times.forEach((at, order) => agenda.add(at, [at, order]));
      agenda.drop(([, order]) => order % 4 === rest);
      const left = times
        .map((at, order): [number, number] => [at, order])
        .filter(([, order]) => order % 4 !== rest);
      const wanted = left.toSorted(([a, i], [b, j]) => a - b || i - j);
      expect(agenda.nextAt()).toBe(wanted[0]?.[0] ?? Infinity);
      const taken: [number, number][] = [];
      for (let now = 0; now <= 20; now++)
        for (let one = agenda.nextDue(now); one; one = agenda.nextDue(now)) {
          expect(one[0]).toBe(now);
          taken.push(one);
        }
      expect(taken).toEqual(wanted);
    }),
  );
});
