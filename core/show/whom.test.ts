import { describe, expect, test } from '@jest/globals';
import { foundNameOf, machineOf, readWhom, whomByName } from './whom.js';

describe('whom a session calls', () => {
  test.each([
    ['192.168.1.20', { host: '192.168.1.20', port: 5004 }],
    ['foh-laptop.local:5006', { host: 'foh-laptop.local', port: 5006 }],
    ['[::1]', { host: '::1', port: 5004 }],
    ['[fe80::1]:6000', { host: 'fe80::1', port: 6000 }],
    ['::1', null],
    ['[quay]', null],
    ['quay:0', null],
    ['quay:65535', null],
    ['http://quay/', null],
    ['"quay"', null],
    ['300.1.1.1', null],
    ['', null],
  ])('%s is the machine %j', (text, machine) => {
    expect(machineOf(text)).toEqual(machine);
  });

  test('is read from what is typed, with names in quotes of any kind', () => {
    expect(readWhom(' 10.0.0.1, quay:5006  “Front of house” "Dr. Fog";[::1]')).toEqual([
      '10.0.0.1',
      'quay:5006',
      '"Front of house"',
      '"Dr. Fog"',
      '[::1]',
    ]);
    expect(readWhom('"never closed')).toEqual(['"never closed']);
    expect(readWhom('')).toEqual([]);
  });

  test('is a name only in quotes, of 1 to 60 characters', () => {
    expect(foundNameOf(whomByName('Front of "house"'))).toBe('Front of house');
    for (const text of ['Front of house', '""', '"never closed', `"${'o'.repeat(61)}"`])
      expect(foundNameOf(text)).toBeNull();
  });
});
