/**
 * Commands to the running order that people press. Which of them were done is noted with the ledger that the launcher keeps, before anything is sent: an
 * engine that dies in the next instant leaves that to the one after it, which does none of them again.
 */
import { createPresses } from '@tawny-signal/core/cues/presses';
import type { EngineInput } from '@tawny-signal/core/engine';
import type { ToEngine } from '@tawny-signal/core/link/messages';
import type { LedgerEntry } from './ledger-pipe.js';
import { takeNote, writeNote } from './note.js';
import type { Outside } from './outside.js';

const KEY = 'presses done';

export interface Pressed {
  /** Does it, unless it was done already or came too late, and answers. */
  take(message: Extract<ToEngine, { t: 'order' }>): void;
  /** Takes the note out of what an earlier engine left. @returns the entries without it */
  begin(all: readonly LedgerEntry[]): readonly LedgerEntry[];
}

interface Noted {
  done: string[];
  /** The one that is being done: what it sends may have left, or not. */
  doing: string | null;
}

export function createPressed(
  outside: Pick<Outside, 'ledger' | 'tell'>,
  give: (input: EngineInput) => void,
): Pressed {
  const presses = createPresses();
  /** One that an earlier engine died of, or during. */
  let unsure: string | null = null;
  const note = (noted: Noted): void => writeNote((...entry) => outside.ledger.note(...entry), KEY, noted);

  return {
    take({ ask, act, desk, press }) {
      if (press !== null && press.id === unsure) return outside.tell({ t: 'ordered', ask, how: 'unsure' });
      const before = presses.left();
      const taken = presses.take(press, act.do);
      if (taken === 'act' && press) note({ done: before, doing: press.id });
      if (taken === 'act') give({ t: 'order', act, desk });
      // By then it has left.
      if (taken === 'act' && press) setImmediate(() => note({ done: presses.left(), doing: null }));
      outside.tell({ t: 'ordered', ask, how: taken === 'late' ? 'late' : 'done' });
    },
    begin(all) {
      const { owed, noted } = takeNote<Noted>(all, KEY);
      if (noted) {
        presses.begin(noted.done ?? []);
        unsure = noted.doing ?? null;
      }
      return owed;
    },
  };
}
