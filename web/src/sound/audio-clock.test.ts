import { expect, test } from '@jest/globals';
import { createAudioClock } from './audio-clock';

test('an instant of the context is brought to the time of the page, both ways', () => {
  let stamp = { contextTime: 0, performanceTime: 0 };
  const context = { getOutputTimestamp: () => stamp, outputLatency: 0.03, baseLatency: 0.01 };
  const clock = createAudioClock(context);
  expect(clock.takenInAt(1)).toBeNull();
  expect(clock.playedAt(1000)).toBeNull();
  stamp = { contextTime: 2, performanceTime: 5000 };
  // What leaves the loudspeaker at 5000 ms was taken in 40 ms before that.
  expect(clock.takenInAt(2)).toBeCloseTo(4960, 9);
  expect(clock.playedAt(5500)).toBeCloseTo(2.5, 9);
  // The browser's estimate of its latency moves; times do not.
  context.outputLatency = 0.05;
  expect(clock.takenInAt(2)).toBeCloseTo(4960, 9);
});
