/** Tries a send by hand on its line, without a mapping. */
import { byHand } from '../../mapping/heard.js';
import { compileSend } from '../../sends.js';
import type { Part, Stage } from '../part.js';

/** What is tried by hand holds its keys together (core/keys/holders). */
const HAND = {};

export function createLineTryPart({ put, lineOf, keys, armed }: Stage): Part {
  return {
    take(input) {
      if (input.t !== 'trySend') return;
      const { send, pressed, value } = input;
      const { line, muted } = lineOf(send.lineId);
      const compiled = compileSend(send);
      const filled = pressed ? compiled.fill(value, byHand(value, 0)) : 'releases';
      if (filled === 'nothing') return;
      for (const signal of filled === 'signals' ? compiled.signals : compiled.releases)
        if (keys.passes(line, signal, HAND, muted || !armed())) put(line, signal, '', muted);
    },
  };
}
