import { describe, expect, test } from '@jest/globals';
import { until } from '../scripts/test-stage.js';
import { createDelays, type Delayed } from './delays.js';

const delayed = (slot: number, dueIn: number, number = 60): Delayed => ({
  slot,
  dueAt: performance.now() + dueIn,
  signal: { kind: 'noteOn', channel: 0, number, value: 1 },
  sender: 'm',
  cause: 1,
});
const numberOf = ({ signal }: Delayed): number => ('number' in signal ? signal.number : -1);

describe('what leaves later', () => {
  test('leaves when it is due, each line’s in its order, and as it was when it was kept', async () => {
    const left: number[] = [];
    const delays = createDelays((one) => left.push(numberOf(one)));
    const first = delayed(0, 40, 1);
    delays.keep(first);
    if ('number' in first.signal) first.signal.number = 99; // whoever gave it uses it again
    delays.keep(delayed(0, 20, 2)); // made shorter: does not overtake
    delays.keep(delayed(1, 10, 3));
    await until(() => left.length === 3, 'all left');
    expect(left).toEqual([3, 1, 2]);
  });

  test('is forgotten when its line is cleared, or all', async () => {
    const left: number[] = [];
    const delays = createDelays((one) => left.push(numberOf(one)));
    delays.keep(delayed(0, 10, 1));
    delays.keep(delayed(1, 20, 2));
    delays.clear(0);
    await until(() => left.length > 0, 'the other left');
    delays.keep(delayed(0, 10, 3));
    delays.clear();
    delays.keep(delayed(0, 30, 4));
    await until(() => left.length > 1, 'what came after it left');
    expect(left).toEqual([2, 4]);
  });

  test('is refused when 20,000 wait already', () => {
    const delays = createDelays(() => undefined);
    const kept = Array.from({ length: 20_001 }, () => delays.keep(delayed(0, 60_000)));
    expect([kept.at(-2), kept.at(-1)]).toEqual([true, false]);
    delays.clear();
  });
});
