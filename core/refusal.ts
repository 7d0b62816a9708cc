/**
 * Why something that came in is not taken, in words. It makes no stack trace: whoever sends what nobody should send makes many of them, and the trace costs
 * more than the reading did.
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
