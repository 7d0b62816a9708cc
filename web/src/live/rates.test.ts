import { expect, test } from '@jest/globals';
import { createRates } from './rates';

const totals = (inCount: number, outCount = 0) => ({ inCount, outCount, inBytes: inCount * 3, outBytes: 0 });

test('the rate is what came in the last second, and falls to nothing', () => {
  const rates = createRates();
  rates.note('pads', totals(0), 0);
  for (let at = 100; at <= 2000; at += 100) rates.note('pads', totals(at / 10), at);
  expect(rates.of('pads')).toMatchObject({ in: 100, inBytes: 300 });
  for (let at = 2100; at <= 3500; at += 100) rates.fade(at);
  expect(rates.of('pads').in).toBe(0);
  expect(rates.of('pads').inAt).toBe(2000);
});

test('a line that is opened anew counts from nothing', () => {
  const rates = createRates();
  rates.note('pads', totals(500, 3), 0);
  rates.note('pads', totals(2), 100);
  expect(rates.of('pads')).toMatchObject({ in: 2, out: 0 });
});

test('what was counted before the page was opened is no rate', () => {
  const rates = createRates();
  rates.note('pads', totals(5000, 70), 0);
  expect(rates.of('pads')).toMatchObject({ in: 0, out: 0, inAt: -Infinity });
});
