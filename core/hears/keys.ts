/** What the hears of keys share. */
import { keyWords, type KeyCode } from '../keys/codes.js';
import { keyPlace } from '../place.js';
import type { Signal } from '../signal.js';
import type { HearKindInfo } from './kind.js';
import { readKey } from '../typed/typing.js';
import { another } from './miss.js';
import { fillPlain } from './read.js';

interface KeyHear {
  lineId: string | null;
  code: KeyCode;
}

/** @param wanted with an article. @param does `pressed`, `held` */
export function keyHear<H extends KeyHear>(
  wanted: string,
  does: 'pressed' | 'held',
): Omit<HearKindInfo<unknown, H>, 'start' | 'words'> {
  const ups = does === 'held';
  return {
    wanted,
    protocol: 'keys',
    number: null,
    value: null,
    holds: ups,
    ...(!ups && { neverLetGo: { instead: 'keyHeld' } }),
    title: ({ code }) => `Key ${keyWords(code)} ${does}`,
    detail: ({ code }) => code,
    controls: ({ code }) => [keyPlace(code)],
    spot: ({ code }) => ({ in: 'keys', code }),
    reader: () => (signal, into) => {
      if (signal.kind !== 'key') return 'value';
      return signal.down || ups ? fillPlain(into, 1) : 'buttonUp';
    },
    misses({ code }, signal: Signal) {
      if (signal.kind !== 'key') return [another(wanted, signal)];
      if (signal.code !== code)
        return [{ words: `wanted the key ${keyWords(code)}, got ${keyWords(signal.code)}`, hear: null }];
      return signal.down || ups ? [] : [another(wanted, signal)];
    },
    column: {
      write: ({ code }) => code,
      read(text) {
        const read = readKey(text);
        return read.ok ? { ok: true, value: { code: read.value } as Partial<H> } : read;
      },
    },
  };
}
