/** Says why a port cannot be listened on, and a moment later which program holds it. */
import { inWords } from './ip-words.js';
import { holderOf, inUseWords, type Transport } from './port-holder.js';
import { waitBefore } from './retry.js';

export interface ListenTrouble {
  /** Listening failed. @returns the time before the next try in ms */
  failed(port: number, host: string, code: string | undefined, tries: number): number;
  /** Listening works, or is not wanted any more. A lookup that is still running is ignored. */
  over(): void;
}

/** Looking up the holder of a port is expensive: it is done at the first failure, and at every eighth after that. */
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
