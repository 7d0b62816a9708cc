/** Questions that were sent, and wait for their answers. */

export interface Asks<Answer> {
  /**
   * @param send sends the question with its number. @param late is called if no answer came in time
   * @returns the answer; null if none came
   */
  ask(send: (ask: number) => void, late: () => void): Promise<Answer | null>;
  /** An answer has come. One that is not waited for any more is dropped. */
  answer(ask: number, answer: Answer): void;
  /** No answer will come: everybody who waits is told so. */
  end(): void;
}

/** @param waitMs how long an answer is waited for */
export function createAsks<Answer>(waitMs: number): Asks<Answer> {
  const waiting = new Map<number, (answer: Answer | null) => void>();
  let last = 0;
  return {
    ask(send, late) {
      const ask = ++last;
      return new Promise((answered) => {
        const timer = setTimeout(() => {
          done(null);
          late();
        }, waitMs);
        const done = (answer: Answer | null): void => {
          clearTimeout(timer);
          waiting.delete(ask);
          answered(answer);
        };
        waiting.set(ask, done);
        send(ask);
      });
    },
    answer: (ask, answer) => waiting.get(ask)?.(answer),
    end() {
      for (const done of [...waiting.values()]) done(null);
    },
  };
}
