// Published: W3C UI Events KeyboardEvent code Values; USB HID Usage Tables, "Keyboard/Keypad Page (0x07)". From memory.
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { KEY_CODES, keyInfo, parseKey } from './codes.js';
import { decodeKey, encodeKey, KeyError } from './key.js';

test.each([
  ['KeyA', 0x04],
  ['KeyZ', 0x1d],
  ['Digit1', 0x1e],
  ['Digit0', 0x27],
  ['Enter', 0x28],
  ['Space', 0x2c],
  ['F1', 0x3a],
  ['F12', 0x45],
  ['ArrowRight', 0x4f],
  ['ArrowUp', 0x52],
  ['ControlLeft', 0xe0],
  ['MetaRight', 0xe7],
])('%s is usage %i', (code, usage) => expect(keyInfo(code)?.usage).toBe(usage));

test('no two keys share a usage, or what is printed on them', () => {
  const infos = KEY_CODES.map((code) => keyInfo(code)!);
  expect(new Set(infos.map(({ usage }) => usage)).size).toBe(infos.length);
  expect(new Set(infos.map(({ words }) => words)).size).toBe(infos.length);
});

test.each([
  ['g', 'KeyG'],
  ['G', 'KeyG'],
  ['KeyG', 'KeyG'],
  ['space', 'Space'],
  ['→', 'ArrowRight'],
  ['page up', 'PageUp'],
  ['f4', 'F4'],
  ['7', 'Digit7'],
])('“%s” is the key %s', (text, code) => expect(parseKey(text)).toBe(code));

test('what is no key is none', () => expect(parseKey('the any key')).toBeNull());

test('each key comes back as it went in', () => {
  for (const code of KEY_CODES)
    for (const down of [true, false])
      expect(decodeKey(encodeKey({ kind: 'key', code, down }))).toEqual({ kind: 'key', code, down });
});

test('random bytes throw a KeyError and nothing else', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 30 }), (bytes) => {
      try {
        decodeKey(bytes);
      } catch (error) {
        expect(error).toBeInstanceOf(KeyError);
      }
    }),
  );
});
