/** Says it to operators when somebody gives wrong passphrases: each address when it begins, and again when it goes on. */
import { count } from '@tawny-signal/core/plural';

interface Guess {
  address: string;
  wrong: number;
}

/** Slips of the finger are not said. */
const SAID_FROM = 3;

/** @param say shows a message */
export function createGuessWords(say: (words: string) => void): (guesses: readonly Guess[]) => void {
  const said = new Map<string, number>();
  return (guesses) => {
    for (const { address, wrong } of guesses) {
      if (wrong < SAID_FROM || wrong < 2 * (said.get(address) ?? 0)) continue;
      said.set(address, wrong);
      say(
        `Somebody at ${address} has given ${count(wrong, 'wrong passphrase')}. They wait longer each time.`,
      );
    }
  };
}
