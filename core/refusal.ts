/**
 * The error for input that is refused, with the reason in words. It has no stack trace, which would cost more than reading the input: a flood of bad
 * input creates many of these errors.
 */
export class Refusal extends Error {
  constructor(words: string) {
    // V8's own; other engines make no use of it.
    const engine: { stackTraceLimit?: number } = Error;
    const { stackTraceLimit } = engine;
    engine.stackTraceLimit = 0;
    super(words);
    if (stackTraceLimit !== undefined) engine.stackTraceLimit = stackTraceLimit;
    else delete engine.stackTraceLimit;
  }
}
