/** Two fields of one send, typed within one round trip to the server. */
import { expect, test } from '@jest/globals';
import { createRowChanges, mergeChange } from './merge-change';

const row = {
  id: 'storm',
  name: 'Storm',
  sends: [
    { kind: 'note', channel: 0, number: 60 },
    { kind: 'note', channel: 0, number: 61 },
  ],
};
const sent = (channel: number, number: number) => ({ kind: 'note', channel, number });

test('a change is brought onto what the row has become meanwhile', () => {
  const [first, second] = row.sends;
  expect(mergeChange(row.sends, [sent(5, 60), second], [sent(0, 72), second])).toEqual([sent(5, 72), second]);
  // What both changed is as the later one says, and so is a list that has another length.
  expect(mergeChange(row.sends, [sent(5, 60), second], [sent(4, 60), second])).toEqual([sent(5, 60), second]);
  expect(mergeChange(row.sends, [first], [sent(0, 72), second])).toEqual([first]);
  expect(mergeChange({ a: 1, b: 2 }, { b: 2 }, { a: 1, b: 3 })).toEqual({ b: 3 });
});

test('the second of two quick changes keeps the first', async () => {
  const changes = createRowChanges();
  let kept = row;
  const send = async (change: Partial<typeof row>): Promise<typeof row> => {
    await Promise.resolve();
    return (kept = { ...kept, ...change });
  };
  const [, second] = row.sends;
  await Promise.all([
    changes.change(row, { sends: [sent(5, 60), second!] }, send),
    changes.change(row, { sends: [sent(0, 72), second!] }, send),
    changes.change(row, { name: 'Storm glass' }, send),
  ]);
  expect(kept).toEqual({ ...row, name: 'Storm glass', sends: [sent(5, 72), second] });
});

test('a change that is refused takes the next one with it neither way', async () => {
  const changes = createRowChanges();
  const refused = changes.change(row, { name: '' }, () => Promise.reject(new Error('A name is needed.')));
  const next = changes.change(row, { name: 'Fog' }, (change) => Promise.resolve({ ...row, ...change }));
  await expect(refused).rejects.toThrow('A name is needed.');
  expect((await next).name).toBe('Fog');
});
