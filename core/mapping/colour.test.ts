import { expect, test } from '@jest/globals';
import convert from 'color-convert';
import fc from 'fast-check';
import { hsbToRgb } from './colour.js';

// Hue circle as in CSS Color 4: red 0, yellow 60, green 120, cyan 180, blue 240, magenta 300 degrees (from memory).
test.each([
  [0, [1, 0, 0]],
  [60, [1, 1, 0]],
  [120, [0, 1, 0]],
  [180, [0, 1, 1]],
  [240, [0, 0, 1]],
  [300, [1, 0, 1]],
  [360, [1, 0, 0]],
])('hue %i at full saturation and brightness', (hue, [red, green, blue]) => {
  expect(hsbToRgb(hue, 100, 100)).toEqual({ red, green, blue });
});

test('no saturation is grey, no brightness is black', () => {
  expect(hsbToRgb(200, 0, 50)).toEqual({ red: 0.5, green: 0.5, blue: 0.5 });
  expect(hsbToRgb(200, 80, 0)).toEqual({ red: 0, green: 0, blue: 0 });
});

test('agrees with the color-convert package', () => {
  fc.assert(
    fc.property(fc.nat(360), fc.nat(100), fc.nat(100), (hue, saturation, brightness) => {
      const ours = hsbToRgb(hue, saturation, brightness);
      const theirs = convert.hsv.rgb.raw([hue, saturation, brightness]);
      expect(ours.red * 255).toBeCloseTo(theirs[0], 6);
      expect(ours.green * 255).toBeCloseTo(theirs[1], 6);
      expect(ours.blue * 255).toBeCloseTo(theirs[2], 6);
    }),
  );
});
