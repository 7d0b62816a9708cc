/**
 * What leaves belongs to the signal that it leaves for, also when it leaves later: whoever plans something notes the step that it is planned in,
 * and says it again when it is done.
 */
export interface Because {
  /** The engine's step that is at work, or that what is done now was planned in; 0: nothing was heard for it. */
  step: number;
}
