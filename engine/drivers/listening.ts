/** What is said of a port that can't be listened on: at once why, and a moment later by whom it is held. */
import { inWords } from './ip-words.js';
import { holderOf, inUseWords, type Transport } from './port-holder.js';
import { waitBefore } from './retry.js';

export interface ListenTrouble {
  /** It can't be listened on. @returns how long to wait before the next try, in ms */
  failed(port: number, host: string, code: string | undefined, tries: number): number;
  /** It is listened on, or not wanted any more: what is still being looked up is not said. */
  over(): void;
}

/** Looking up who holds a port reads much of the system: at the first failure, and now and then after that. */
const LOOK_EVERY = 8;

export function createListenTrouble(
  transport: Transport,
  say: (words: string, tryInMs: number) => void,
): ListenTrouble {
  let attempt = 0;
  let holder: string | null = null;
  return {
    failed(port, host, code, tries) {
      const wait = waitBefore(tries);
      const now = ++attempt;
      const began = performance.now();
      if (code !== 'EADDRINUSE') {
        say(inWords(port, host, code), wait);
        return wait;
      }
      say(inUseWords(port, holder), wait);
      if (tries % LOOK_EVERY === 0) {
        void holderOf(port, transport).then((found) => {
          if (now !== attempt || found === holder) return;
          holder = found;
          say(inUseWords(port, holder), Math.max(0, wait - (performance.now() - began)));
        });
      }
      return wait;
    },
    over() {
      attempt++;
      holder = null;
    },
  };
}
