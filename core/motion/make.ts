/** Describes one way to make values. Each has a file in makes/ and a line in each list of makes.ts; its form is in web/src/motion/make-fields. */
import type { z } from 'zod';
import type { Run, RunStage } from './run.js';

/** `Given` is a make as it is written down, `M` the same after it was read. */
export interface MakeInfo<Given, M> {
  /** Its name in the interface. */
  words: string;
  /** What it is for, in one sentence. */
  about: string;
  /** True if it goes through cycles or steps, so that the rate counts; false if it has times of its own. */
  cycles: boolean;
  /** What is called a cycle of it; left out if it has none. */
  cycle?: 'cycle' | 'step';
  /** What its form is, if something can move that. */
  form?: string;
  /** True if it does nothing until something starts it. */
  waits: boolean;
  start(): Given;
  /** Another run of it. */
  run(make: M, stage: RunStage): Run;
  /** What it makes, in a few words: `sine`, `attack 0.2 s`. */
  title(make: M): string;
}

export interface MakeOf<Schema extends z.ZodType> extends MakeInfo<z.input<Schema>, z.output<Schema>> {
  schema: Schema;
}
