/** The keys of the prompt desk, which a show can choose. Panic's is the same everywhere, and can't be changed. */
import { z } from 'zod';
import { KEY_CODES, type KeyCode } from '../keys/codes.js';

export const DESK_ACTS = ['go', 'hold', 'back', 'stopAll', 'fadeOut'] as const;
export type DeskAct = (typeof DESK_ACTS)[number];

export const DESK_KEYS: Record<DeskAct, KeyCode> = {
  go: 'Enter',
  hold: 'KeyH',
  back: 'KeyB',
  stopAll: 'KeyX',
  fadeOut: 'KeyO',
};

const code = z.enum(KEY_CODES, 'Press the key, or write its code, like KeyG, Space or ArrowRight.');

export const deskKeysSchema = z
  .object({ go: code, hold: code, back: code, stopAll: code, fadeOut: code })
  .refine((keys) => new Set(Object.values(keys)).size === DESK_ACTS.length, {
    message: 'Two of them have the same key. Choose another.',
  })
  .refine((keys) => !Object.values(keys).includes('Tab') && !Object.values(keys).includes('Escape'), {
    message: 'Tab and Escape are for moving about. Choose another key.',
  });
export type DeskKeys = z.infer<typeof deskKeysSchema>;
